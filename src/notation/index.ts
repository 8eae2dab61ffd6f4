export { Decimal, type Rounding } from "./Decimal.ts";
export { isDecimal } from "./isDecimal.ts";
export {
  editingNumber,
  isKnownUnit,
  type NumberAffixes,
  numberFormat,
  numberMarks,
  plainNumber,
  numberReader,
  readNumber,
  readPlain,
  shifted,
  unitWays,
} from "./numbers.ts";
export {
  editingDate,
  editingDateTime,
  editingTime,
  isDate,
  isDateTime,
  isTime,
  readDate,
  readDateTime,
  readShownDateTime,
  readTime,
  showDateTime,
} from "./dates.ts";
export {
  editingInstant,
  instantAt,
  isInstant,
  localTime,
  readInstant,
  readShownInstant,
  showInstant,
} from "./instants.ts";
