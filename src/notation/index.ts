export {
  editingNumber,
  isKnownUnit,
  type NumberAffixes,
  numberFormat,
  numberMarks,
  plainNumber,
  readNumber,
  readPlain,
  shifted,
  unitWays,
} from "./numbers.ts";
