import type { Seeded } from "../seeded.ts";

/** Names as builders write them: most are right, some misspelled, in the wrong case, of another place, or blank. */
const names: readonly string[] = [
  ...["tag", "species", "count", "light", "uses", "native", "label", "height", "noted", "left.height", "van", "stops"],
  ...[
    "tga",
    "specie",
    "Count",
    "lihgt",
    "use",
    "hight",
    "left.hight",
    "rigth.noted",
    "",
    "__proto__",
    "toString",
    "a b",
  ],
];
const paths: readonly string[] = [
  ...["card.tag", "card.label", "card.left.height", "route.stops", "stock.length", "card"],
  ...["crad.tag", "card.tga", "rout.stops", "printLabel", "nothing", "", ".", "card.", "card.left", "route.tag"],
];
const values: readonly (string | undefined)[] = [
  ...["sun", "shade", "hedge", "street", "park", "Acer campestre", "Tilia cordata", "Quercus robur"],
  ...["true", "false", "sn", "hegde", "5", "", "&quot;x&quot;", undefined, undefined],
];
const commands: readonly string[] = [
  ...["--print-label", "--clear-card", "--clear-crad", "clearCard", "--printLabel", "show-modal", "CLOSE", "clsoe", ""],
];
const types: readonly string[] = [
  ...["text", "number", "checkbox", "radio", "date", "range", "hidden", "submit", "button", "TEXT", "color", "file"],
  ...["search", "datetime-local", "month", "reset", "image", "password", "unheard"],
];
const constraints: readonly string[] = [
  ...["", "", "", "", " required", ' min="0"', ' max="60"', ' min="1"', ' maxlength="7"', ' pattern="A.*"', " checked"],
  ...[' value="5"', " disabled", " readonly", ' size="4"'],
];

/** A page that somebody may have written: agreeing with what it is bound to in some places, and not in others. */
export function generatedPage(random: Seeded): string {
  const { below, pick } = random;
  const one = (chance: number): boolean => below(chance) === 0;
  const value = (): string => {
    const chosen = pick(values);
    return chosen === undefined ? "" : ` value="${chosen}"`;
  };
  const name = (): string => (one(9) ? "" : ` ${one(12) ? "NAME" : "name"}="${pick(names)}"`);
  const tied = (): string => (one(12) ? ` form="${pick(["card", "route", "f1", "none"])}"` : "");
  const options = (): string =>
    Array.from({ length: below(5) }, () => `<option${value()}>${pick(values) ?? ""}</option>`).join("");
  const many = (most: number, deep: number): string =>
    Array.from({ length: below(most) }, () => piece(deep + 1)).join(one(3) ? "\n" : " ");
  const pieces: readonly ((deep: number) => string)[] = [
    () => `<input${name()}${one(2) ? "" : ` type="${pick(types)}"`}${value()}${pick(constraints)}${tied()}>`,
    () => `<input${name()} type="${pick(["radio", "checkbox"])}"${value()}${pick(constraints)}>`,
    () => `<select${name()}${one(3) ? " multiple" : ""}${pick(constraints)}${tied()}>${options()}</select>`,
    () => `<textarea${name()}${pick(constraints)}></textarea>`,
    () => `<output${name()}${tied()}></output>`,
    () => `<button${one(2) ? name() : ""}${one(2) ? ' type="button"' : ""}${value()}>Press</button>`,
    () => `<button type="button" command="${pick(commands)}">Run</button>`,
    () => `<output data-name="${pick(paths)}"></output>`,
    () => `<span data-name="${pick([...paths, ...names])}"${tied()}></span>`,
    () => `<some-field${name()}></some-field>`,
    (deep) =>
      `<fieldset${one(2) ? ` name="${pick(["left", "right", "lfet", "tag", ""])}"` : ""}>${many(4, deep)}</fieldset>`,
    (deep) => `<div${one(6) ? ' lang="de"' : ""}>${many(4, deep)}</div>`,
    (deep) => `<label>Text ${many(2, deep)}</label>`,
    (deep) => `<p>Not closed ${many(3, deep)}`,
    (deep) => `<template>${many(3, deep)}</template>`,
    (deep) => `<svg><title>${pick(names)}</title></svg><!-- <input name="tga"> -->${many(2, deep)}`,
    (deep) => `<optgroup><object${name()}>${many(2, deep)}</object>`,
  ];
  const piece = (deep: number): string => (deep > 4 ? "" : pick(pieces)(deep));
  const form = (): string => {
    const called = pick(["card", "card", "card", "route", "route", "crad", "", "Card"]);
    return `<form${called === "" && one(2) ? "" : ` name="${called}"`} id="${pick(["card", "route", "f1"])}">${many(12, 0)}${one(8) ? "" : "</form>"}`;
  };
  const parts = Array.from({ length: 1 + below(3) }, () => (one(5) ? piece(0) : form()));
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>A page</title><body>${many(4, 0)}${parts.join("\n")}${many(4, 0)}</body></html>`;
}
