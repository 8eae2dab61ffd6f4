// Makes docs/messages.md: every message in every language that is shipped, with facts filled in.

/** Which messages a code of a problem has. What a rule says is its own. */
const byCode = {
  valueMissing: ["valueMissing", "choiceMissing", "answerMissing"],
  badInput: [
    "badNumber",
    "badInteger",
    "badDate",
    "badTime",
    "badDateTime",
    "badInstant",
    "notAChoice",
    "notJson",
    "cellCount",
    "openQuote",
    "notUtf8",
  ],
  typeMismatch: ["typeMismatch", "wrongFile", "noColumn", "noRowFor"],
  patternMismatch: ["patternMismatch"],
  tooLong: ["tooLong"],
  tooShort: ["tooShort"],
  rangeUnderflow: ["rangeUnderflow", "beforeMinimum", "notOver", "outsideTimes"],
  rangeOverflow: ["rangeOverflow", "afterMaximum", "notUnder", "tooLarge"],
  stepMismatch: ["stepMismatch"],
  notAChoice: ["notAChoice"],
  duplicate: ["duplicateItem"],
  tooFew: ["tooFew"],
  tooMany: ["tooMany"],
  notConst: ["notConst"],
  checkFailed: ["checkFailed", "noAnswer"],
  notSaved: ["notSaved", "notSavedNow", "nowhereToSave"],
  keyTaken: ["choiceExists", "keptKeyTaken"],
  tableFull: ["tableFull"],
  inUse: ["inUse"],
  changedElsewhere: ["changedElsewhere", "keepMine", "takeTheirs", "chooseInCell"],
};

/** Codes whose words are the builder's: why rows may not be moved. */
const without = ["notAllowed"];

const facts = {
  title: "Girth",
  limit: "12",
  example: "31.5",
  value: "Quercus robur",
  place: "trees.ndjson",
  reason: "The disk is full.",
};
const own = {
  undo: { value: "changeOf" },
  redo: { value: "changeOf" },
  undone: { value: "changeOf" },
  redone: { value: "changeOf" },
  outOfDate: { value: "77 years" },
  inRow: { reason: "Enter a value." },
  leaveUnsaved: { title: "Tree card" },
  stepOf: { limit: "5", title: "Place" },
  stepsLeft: { title: "Place" },
  tooLarge: { limit: "2 MB" },
  wrongFile: { value: "image/*" },
  beforeMinimum: { limit: "1/1/2026" },
  afterMaximum: { limit: "12/31/2026" },
  outsideTimes: { value: "10:00 PM", limit: "6:00 AM" },
  notConst: { value: "yes" },
  changedElsewhere: { value: "33.2 cm", mine: "31.5 cm" },
  keepMine: { value: "31.5 cm" },
  takeTheirs: { value: "33.2 cm" },
  badDate: { example: "11/23/2026" },
  badTime: { example: "9:41 AM" },
  badDateTime: { example: "11/23/2026 9:41 AM" },
  badInstant: { example: "11/23/2026 9:41 AM" },
  badInteger: { example: "31" },
  valueMissing: { example: "AB-0042" },
  patternMismatch: { example: "AB-0042" },
  typeMismatch: { example: "kb@thornbeck.example" },
  rowWent: { title: "AB-0042", place: "12" },
  rowLeft: { title: "AB-0042" },
  rowLeftHere: { title: "AB-0042" },
  rowGoneHere: { title: "AB-0042" },
  rowGoneEntered: { title: "AB-0042", value: "Girth: 31.5 cm" },
  copying: { value: "40%" },
  rowChanged: { title: "AB-0042" },
  rowNotSaved: { title: "AB-0042", reason: "Enter a value." },
  columnPlace: { place: "2" },
  cellCount: { limit: "2" },
  notJson: { reason: "Unexpected end of JSON input" },
  saved: { title: "AB-0042" },
  savedTo: { title: "AB-0042" },
};

/** The same facts as a reader of another language has them: by what stands for them in English. */
const inLanguage = {
  de: {
    Girth: "Stammumfang",
    31.5: "31,5",
    "31.5 cm": "31,5 cm",
    "33.2 cm": "33,2 cm",
    "trees.ndjson": "baeume.ndjson",
    "The disk is full.": "Die Platte ist voll.",
    "77 years": "77 Jahre",
    "Girth: 31.5 cm": "Stammumfang: 31,5 cm",
    "40%": "40 %",
    "Enter a value.": "Hier fehlt eine Angabe.",
    "Tree card": "Baumkarte",
    Place: "Standort",
    "1/1/2026": "01.01.2026",
    "12/31/2026": "31.12.2026",
    "11/23/2026": "23.11.2026",
    "9:41 AM": "09:41",
    "10:00 PM": "22:00",
    "6:00 AM": "06:00",
    "11/23/2026 9:41 AM": "23.11.2026 09:41",
    yes: "ja",
    "Unexpected end of JSON input": "das Ende fehlt",
  },
  ar: {
    Girth: "محيط الجذع",
    12: "١٢",
    5: "٥",
    2: "٢",
    31: "٣١",
    31.5: "٣١٫٥",
    "31.5 cm": "٣١٫٥ سم",
    "33.2 cm": "٣٣٫٢ سم",
    "The disk is full.": "القرص ممتلئ.",
    "77 years": "٧٧ سنة",
    "Girth: 31.5 cm": "محيط الجذع: ٣١٫٥ سم",
    "40%": "٤٠٪؜",
    "Enter a value.": "أدخل قيمة.",
    "Tree card": "بطاقة الشجرة",
    Place: "المكان",
    "1/1/2026": "١‏/١‏/٢٠٢٦",
    "12/31/2026": "٣١‏/١٢‏/٢٠٢٦",
    "11/23/2026": "٢٣‏/١١‏/٢٠٢٦",
    "9:41 AM": "٠٩:٤١",
    "10:00 PM": "٢٢:٠٠",
    "6:00 AM": "٠٦:٠٠",
    "11/23/2026 9:41 AM": "٢٣‏/١١‏/٢٠٢٦ ٠٩:٤١",
    "2 MB": "٢ ميغابايت",
    yes: "نعم",
    "Unexpected end of JSON input": "النهاية ناقصة",
  },
};

/** One message in one language; for one and for several, where it counts. */
function words(name, { tag, messages }) {
  const translated = (all) =>
    Object.fromEntries(Object.entries(all).map(([fact, text]) => [fact, inLanguage[tag]?.[text] ?? text]));
  const given = translated({ ...facts, ...own[name] });
  if (given.value === "changeOf") given.value = messages.changeOf(translated(facts));
  const [one, several] = [1, 3].map((count) => messages[name]({ ...given, count }));
  return one === several ? one : `${one} / ${several}`;
}

const cell = (text) => text.replaceAll("|", "\\|").replaceAll("\n", " ");

export function messagesPage(languages, names, codes) {
  const unnamed = codes.filter((code) => !(code in byCode) && !without.includes(code));
  const strange = Object.keys(byCode).filter((code) => !codes.includes(code));
  if (unnamed.length + strange.length > 0)
    throw new Error(`Codes without messages: ${unnamed.join(", ")}; messages without a code: ${strange.join(", ")}`);
  const head = `| message | ${languages.map(({ tag }) => new Intl.DisplayNames([tag], { type: "language" }).of(tag)).join(" | ")} |`;
  const line = `|---|${languages.map(() => "---").join("|")}|`;
  const rows = (list) =>
    list.map((name) => `| \`${name}\` | ${languages.map((language) => cell(words(name, language))).join(" | ")} |`);
  const used = new Set(Object.values(byCode).flat());
  const parts = Object.entries(byCode).map(([code, list]) =>
    [`## ${code}`, "", head, line, ...rows(list), ""].join("\n"),
  );
  const others = names.filter((name) => !used.has(name));
  return `# Messages

Every message that a person at the window can get, in every language that is shipped, with facts filled in as an example;
where it counts something, for one and for three. The headings are the codes of problems. Any of them can be replaced: for one
field by its \`messages\`, for one rule by its \`message\`, for an application or a language by \`addLanguage\`. Written
by \`npm run docs\`.

${parts.join("\n")}
## Other words

${[head, line, ...rows(others)].join("\n")}
`;
}
