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
    tooLong: ({ count, limit }) => `Höchstens ${limit} Zeichen; dies sind ${count}.`,
    tooShort: ({ count, limit }) => `Mindestens ${limit} Zeichen; dies sind ${count}.`,
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
    wrongFile: ({ value }) => `Wählen Sie eine Datei dieser Art: ${value}.`,
    inRow: ({ count, title, reason }) => `Zeile ${count}, ${title}: ${reason}`,
    choiceExists: ({ value }) => `${value} gibt es schon.`,
    addChoice: ({ value }) => `„${value}“ hinzufügen`,
    noChoices: () => "Nichts gefunden",
    searching: () => "Suche läuft …",
    outOfDate: ({ value }) => `${value} (veraltet)`,
    ruleBroken: () => "Das passt nicht zu den anderen Angaben.",
    notSaved: ({ reason }) => `Nicht gespeichert: ${reason} Ihre Eingaben sind noch da; versuchen Sie es noch einmal.`,
    saved: ({ title }) => `${title} ist gespeichert.`,
    savedTo: ({ title, place }) => `${title} ist in ${place} gespeichert.`,
    problemCount: ({ count }) =>
      `Noch nicht gespeichert: ${counted(count, "Angabe braucht", "Angaben brauchen")} Ihre Aufmerksamkeit.`,
    notSet: () => "nicht gesetzt",
    readOnly: () => "Das lässt sich hier nicht ändern.",
  },
};
