import type { CalculatedField } from "./CalculatedField.ts";
import type { Field } from "./Field.ts";

/** A field that can be entered, or one that is calculated. */
export type AnyField = Field | CalculatedField;
