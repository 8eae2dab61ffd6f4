import type { Language, MessageFacts } from "../../model/index.ts";

const such = ({ example }: MessageFacts): string => (example === undefined ? "" : `، مثل ${example}`);
const digits = new Intl.NumberFormat("ar-EG");
// The count stands behind a colon, since the forms of the counted word would differ in six ways.
const counted = (word: string, count: number | undefined): string => `${word}: ${digits.format(count ?? 0)}`;

/** Arabic. */
export const arabic: Language = {
  tag: "ar",
  messages: {
    valueMissing: (facts) => `أدخل قيمة${such(facts)}.`,
    choiceMissing: () => "اختر واحدًا.",
    answerMissing: () => "أجب عن هذا.",
    badNumber: (facts) => `هذا ليس عددًا. أدخل عددًا${such(facts)}.`,
    badInteger: (facts) => `هذا ليس عددًا صحيحًا. أدخل عددًا صحيحًا${such(facts)}.`,
    badDate: (facts) => `هذا ليس تاريخًا موجودًا. أدخل تاريخًا${such(facts)}.`,
    badTime: (facts) => `هذا ليس وقتًا. أدخل وقتًا${such(facts)}.`,
    badDateTime: (facts) => `هذا ليس تاريخًا ووقتًا. أدخل كليهما${such(facts)}.`,
    badInstant: (facts) => `هذا ليس تاريخًا ووقتًا موجودين هنا. أدخل كليهما${such(facts)}.`,
    patternMismatch: ({ example }) => (example === undefined ? "الصيغة غير صحيحة." : `أدخله مثل ${example}.`),
    typeMismatch: ({ example }) => `أدخله مثل ${example}.`,
    tooLong: ({ count, limit }) => `الحد الأقصى للأحرف ${limit}؛ ${counted("وهنا", count)}.`,
    tooShort: ({ count, limit }) => `الحد الأدنى للأحرف ${limit}؛ ${counted("وهنا", count)}.`,
    rangeUnderflow: ({ limit }) => `أدخل ${limit} أو أكثر.`,
    rangeOverflow: ({ limit }) => `أدخل ${limit} أو أقل.`,
    beforeMinimum: ({ limit }) => `أدخل ${limit} أو بعده.`,
    afterMaximum: ({ limit }) => `أدخل ${limit} أو قبله.`,
    notOver: ({ limit }) => `أدخل أكثر من ${limit}.`,
    notUnder: ({ limit }) => `أدخل أقل من ${limit}.`,
    stepMismatch: ({ limit }) => `أدخل أحد مضاعفات ${limit}.`,
    notAChoice: ({ value }) => `${value} ليس من الخيارات.`,
    tooFew: ({ count }) => `${counted("الحد الأدنى للعدد", count)}.`,
    tooMany: ({ count }) => `${counted("الحد الأقصى للعدد", count)}.`,
    notConst: ({ value }) => `يجب أن يكون ${value}.`,
    duplicateItem: ({ value }) => `${value} مكرر.`,
    tooLarge: ({ limit }) => `اختر ملفًا لا يتجاوز ${limit}.`,
    wrongFile: ({ value }) => `اختر ملفًا من هذا النوع: ${value}.`,
    inRow: ({ count, title, reason }) => `${counted("الصف", count)}، ${title}: ${reason}`,
    choiceExists: ({ value }) => `${value} موجود بالفعل.`,
    addChoice: ({ value }) => `إضافة «${value}»`,
    noChoices: () => "لا توجد خيارات",
    searching: () => "جارٍ البحث…",
    outOfDate: ({ value }) => `${value} (لم يعد صالحًا)`,
    ruleBroken: () => "هذا لا يتفق مع الباقي.",
    notSaved: ({ reason }) => `لم يتم الحفظ: ${reason} ما أدخلته لا يزال هنا؛ حاول مرة أخرى.`,
    saved: ({ title }) => `تم حفظ ${title}.`,
    savedTo: ({ title, place }) => `تم حفظ ${title} في ${place}.`,
    problemCount: ({ count }) => `لم يتم الحفظ بعد؛ ${counted("ما يحتاج إلى انتباهك", count)}.`,
    notSet: () => "غير محدد",
    readOnly: () => "لا يمكن تغيير هذا هنا.",
  },
};
