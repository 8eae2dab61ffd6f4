import type { Language, MessageFacts } from "../../model/index.ts";

const plural = new Intl.PluralRules("de");
const counted = (count: number | undefined, one: string, other: string): string =>
  `${count ?? 0} ${plural.select(count ?? 0) === "one" ? one : other}`;
const such = ({ example }: MessageFacts): string => (example === undefined ? "" : `, zum Beispiel ${example}`);

/** German. */
export const german: Language = {
  tag: "de",
  messages: {
    valueMissing: (facts) => `Hier fehlt eine Angabe${such(facts)}.`,
    choiceMissing: () => "Bitte wählen Sie etwas aus.",
    answerMissing: () => "Bitte beantworten Sie das.",
    badNumber: (facts) => `Das ist keine Zahl. Geben Sie eine Zahl ein${such(facts)}.`,
    badInteger: (facts) => `Das ist keine ganze Zahl. Geben Sie eine ganze Zahl ein${such(facts)}.`,
    badDate: (facts) => `Diesen Tag gibt es nicht. Geben Sie ein Datum ein${such(facts)}.`,
    badTime: (facts) => `Das ist keine Uhrzeit. Geben Sie eine Uhrzeit ein${such(facts)}.`,
    badDateTime: (facts) => `Das ist kein Datum mit Uhrzeit. Geben Sie beides ein${such(facts)}.`,
    badInstant: (facts) => `Diesen Zeitpunkt gibt es hier nicht. Geben Sie Datum und Uhrzeit ein${such(facts)}.`,
    patternMismatch: (facts) =>
      facts.example === undefined ? "Das hat nicht die richtige Form." : `Geben Sie es ein wie ${facts.example}.`,
    typeMismatch: ({ example }) => `Geben Sie es so ein: ${example}.`,
    tooLong: ({ count, limit }) => `Höchstens ${limit} Zeichen; hier sind es ${count}.`,
    tooShort: ({ count, limit }) => `Mindestens ${limit} Zeichen; hier sind es ${count}.`,
    rangeUnderflow: ({ limit }) => `Geben Sie ${limit} oder mehr ein.`,
    rangeOverflow: ({ limit }) => `Geben Sie ${limit} oder weniger ein.`,
    beforeMinimum: ({ limit }) => `Geben Sie ${limit} oder etwas Späteres ein.`,
    afterMaximum: ({ limit }) => `Geben Sie ${limit} oder etwas Früheres ein.`,
    notOver: ({ limit }) => `Geben Sie mehr als ${limit} ein.`,
    notUnder: ({ limit }) => `Geben Sie weniger als ${limit} ein.`,
    stepMismatch: ({ limit }) => `Geben Sie ein Vielfaches von ${limit} ein.`,
    notAChoice: ({ value }) => `${value} steht nicht zur Auswahl.`,
    tooFew: ({ count }) => `Geben Sie mindestens ${count} an.`,
    tooMany: ({ count }) => `Geben Sie höchstens ${count} an.`,
    notConst: ({ value }) => `Hier muss ${value} stehen.`,
    duplicateItem: ({ value }) => `${value} steht zweimal da.`,
    tooLarge: ({ limit }) => `Wählen Sie eine Datei von höchstens ${limit}.`,
    oneFile: () => "Wählen Sie nur eine Datei. Keine von diesen wurde übernommen.",
    wrongFile: ({ value }) => `Wählen Sie eine Datei dieser Art: ${value}.`,
    inRow: ({ count, title, reason }) => `Zeile ${count}, ${title}: ${reason}`,
    choiceExists: ({ value }) => `${value} gibt es schon.`,
    addChoice: ({ value }) => `„${value}“ hinzufügen`,
    noChoices: () => "Nichts gefunden",
    searching: () => "Suche läuft …",
    outOfDate: ({ value }) => `${value} (veraltet)`,
    ruleBroken: () => "Das passt nicht zu den anderen Angaben.",
    changedElsewhere: ({ value, mine }) =>
      value === undefined
        ? "Das wurde auch anderswo geändert."
        : `Auch anderswo geändert. Dort: ${value}. Hier: ${mine}.`,
    keepMine: ({ value }) => (value === undefined ? "Meines behalten" : `Meines behalten: ${value}`),
    chooseInCell: () => "Ihre Eingabe bleibt, wenn Sie sie noch einmal eingeben; Escape übernimmt die andere.",
    takeTheirs: ({ value }) => (value === undefined ? "Das andere übernehmen" : `Das andere übernehmen: ${value}`),
    notSaved: ({ reason }) => `Nicht gespeichert: ${reason} Ihre Eingaben sind noch da.`,
    notSavedNow: ({ reason }) =>
      `Nicht gespeichert: ${reason} Ihre Eingaben sind noch da; versuchen Sie es noch einmal.`,
    nowhereToSave: () => "Nicht gespeichert: Es gibt noch keinen Ort dafür. Ihre Eingaben sind noch da.",
    saved: ({ title }) => (title ? `${title} ist gespeichert.` : "Gespeichert."),
    savedTo: ({ title, place }) => (title ? `${title} ist in ${place} gespeichert.` : `In ${place} gespeichert.`),
    problemCount: ({ count }) =>
      `Noch nicht gespeichert: ${counted(count, "Angabe braucht", "Angaben brauchen")} Ihre Aufmerksamkeit.`,
    problemsHere: ({ count }) =>
      `${counted(count, "Angabe hier braucht", "Angaben hier brauchen")} zuerst Ihre Aufmerksamkeit.`,
    notSet: () => "nicht gesetzt",
    readOnly: () => "Das lässt sich hier nicht ändern.",
    checking: () => "Wird geprüft …",
    checkFailed: ({ reason }) =>
      `Das konnte nicht geprüft werden: ${reason} Speichern Sie es so, oder versuchen Sie es später noch einmal.`,
    noAnswer: ({ count }) => `innerhalb von ${counted(count, "Sekunde", "Sekunden")} kam keine Antwort.`,
    warned: ({ count }) =>
      `Noch nicht gespeichert: Beachten Sie ${counted(count, "Warnung", "Warnungen")}. Um trotzdem zu speichern, drücken Sie noch einmal.`,
    warnedHere: ({ count }) =>
      `Beachten Sie ${counted(count, "Warnung", "Warnungen")}. Um trotzdem weiterzugehen, drücken Sie noch einmal.`,
    changeOf: ({ title }) => `Änderung von ${title}`,
    goingBack: () => "Rückkehr zum Gespeicherten",
    startingNew: () => "Neubeginn",
    undo: ({ value }) => `${value} rückgängig machen`,
    redo: ({ value }) => `${value} wiederherstellen`,
    undone: ({ value }) => `Rückgängig gemacht: ${value}.`,
    redone: ({ value }) => `Wiederhergestellt: ${value}.`,
    notUndone: ({ title }) => `${title} wurde inzwischen anderswo geändert und bleibt, wie es ist.`,
    nothingToUndo: () => "Es gibt nichts rückgängig zu machen.",
    nothingToRedo: () => "Es gibt nichts wiederherzustellen.",
    leaveUnsaved: ({ title }) =>
      title
        ? `${title} hat Änderungen, die nicht gespeichert sind.`
        : "Es gibt Änderungen, die nicht gespeichert sind.",
    save: () => "Speichern",
    leave: () => "Ohne Speichern verlassen",
    stay: () => "Hier bleiben",
    yes: () => "Ja",
    no: () => "Nein",
    ok: () => "OK",
    cancel: () => "Abbrechen",
    nothingChosen: () => "nichts gewählt",
    nothingEntered: () => "nichts eingegeben",
    stepOf: ({ count, limit, title }) => `Schritt ${count} von ${limit}: ${title}`,
    stepsLeft: ({ title }) => `Schließen Sie zuerst den Schritt ${title} ab.`,
    stepDone: () => "erledigt",
    stepWrong: () => "braucht Ihre Aufmerksamkeit",
    firstStep: () => "Das ist der erste Schritt.",
    lastStep: () => "Das ist der letzte Schritt.",
    noRow: () => "Wählen Sie zuerst eine Zeile.",
    rowGone: () => "Diese Zeile gibt es nicht mehr.",
    rowChanged: ({ title }) => `${title} wurde geändert: Speichern Sie zuerst oder nehmen Sie die Änderungen zurück.`,
    rowNotSaved: ({ reason, title }) => `${title} ist nicht gespeichert: ${reason}`,
    noRows: () => "Es gibt keine Zeilen.",
    loadingRows: () => "Zeilen werden geladen …",
    markChanged: () => "geändert",
    markWrong: () => "braucht Ihre Aufmerksamkeit",
    markNew: () => "neu",
    markUnsaved: () => "noch nicht gespeichert",
    markSelected: () => "ausgewählt",
    markGone: () => "nicht mehr in dieser Liste",
    rowState: () => "Zustand",
    total: () => "Summe",
    rowWent: ({ place, title }) => `${title} steht jetzt in Zeile ${place}.`,
    rowLeft: ({ title }) => `${title} ist nicht mehr in dieser Liste.`,
    rowLeftHere: ({ title }) => `${title} ist nicht mehr in dieser Liste. Sie können hier weiter bearbeiten.`,
    rowGoneHere: ({ title }) =>
      `${title} wurde inzwischen gelöscht. Was hier steht, kann kopiert, aber nicht gespeichert werden.`,
    rowGoneEntered: ({ title, value }) => `${title} wurde inzwischen gelöscht, daher ist nicht gespeichert: ${value}.`,
    copied: ({ count }) => `Zeilen kopiert: ${count}.`,
    copying: ({ value }) => `Kopieren: ${value} fertig. Escape hält an.`,
    copyStopped: () => "Angehalten. Nichts wurde kopiert.",
    sorting: ({ value }) => `Sortieren: ${value} fertig. Escape hält an.`,
    sortStopped: () => "Angehalten. Die Zeilen bleiben in der Reihenfolge, die sie hatten.",
    notCopied: () => "Nichts wurde kopiert: Dieser Browser erlaubt es hier nicht, oder nicht für so viele Zeilen.",
    pasted: ({ count }) => `Durch Einfügen geänderte Zellen: ${count}.`,
    notPasted: ({ count }) => `Nichts wurde eingefügt. Zellen, die nicht passen: ${count}.`,
    noColumn: () => "Dafür gibt es keine Spalte.",
    noRowFor: () => "Dafür gibt es keine Zeile.",
    sortedUp: ({ title }) => `Sortiert nach ${title}, aufsteigend.`,
    sortedDown: ({ title }) => `Sortiert nach ${title}, absteigend.`,
    notSorted: ({ title }) => `Nicht nach ${title} sortiert.`,
    columnWidth: ({ count, title }) => `${title}: ${count} Pixel breit.`,
    columnPlace: ({ place, title }) => `${title} ist jetzt Spalte ${place}.`,
    columnHidden: ({ title }) => `Die Spalte ${title} ist ausgeblendet.`,
    sortFirst: ({ title }) => `Um die Reihenfolge zu ändern, sortieren Sie zuerst nach ${title}.`,
    tableFull: ({ count }) =>
      count === 1
        ? "Es ist nur für 1 Zeile Platz, und die ist belegt."
        : `Es ist für ${count} Zeilen Platz, und alle sind belegt.`,
    notJson: ({ reason }) => `Diese Zeile ist kein JSON: ${reason}.`,
    cellCount: ({ count, limit }) =>
      `Diese Zeile hat ${count} ${count === 1 ? "Zelle" : "Zellen"}, die erste Zeile ${limit}.`,
    openQuote: () => "In dieser Zeile wird ein Anführungszeichen geöffnet und nicht richtig geschlossen.",
    notUtf8: () => "Diese Zeile hat Bytes, die kein UTF-8-Text sind.",
    inUse: ({ count, value }) => `${value} wird noch verwendet: ${count}-mal.`,
    keptSaved: ({ place }) => `Alles ist in ${place} gespeichert.`,
    keptWritten: ({ count, place }) => `${counted(count, "Zeile", "Zeilen")} in ${place} gespeichert.`,
    keptUnsaved: ({ count }) => `${counted(count, "Zeile", "Zeilen")} noch nicht gespeichert.`,
    keptSaving: ({ count, place }) => `${counted(count, "Zeile wird", "Zeilen werden")} in ${place} gespeichert …`,
    keptRefused: ({ count, reason }) =>
      `${counted(count, "Zeile", "Zeilen")} nicht gespeichert: ${reason} Ihre Eingaben sind noch da.`,
    keptUnreachable: ({ count, reason }) =>
      `${counted(count, "Zeile", "Zeilen")} noch nicht gespeichert: ${reason} Ihre Eingaben sind noch da, und das Speichern wird wiederholt.`,
    keptConflict: ({ count }) =>
      `${counted(count, "Zeile wurde", "Zeilen wurden")} hier und anderswo geändert: Wählen Sie, was gilt.`,
    keptRowsLeftOut: ({ count, place }) =>
      `${counted(count, "Zeile", "Zeilen")} in ${place} nicht lesbar und nicht angezeigt, dort aber noch vorhanden.`,
    keptNothing: () => "Es gibt nichts zu speichern.",
    keptKeyTaken: ({ place }) => `Eine andere Zeile in ${place} hat das schon.`,
    keptStopped: ({ place }) => `Diese Zeilen werden nicht mehr in ${place} gespeichert.`,
  },
};
