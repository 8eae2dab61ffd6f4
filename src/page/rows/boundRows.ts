import { IronwoodError, unknownName } from "../../errors/index.ts";
import { mirror, type Stoppable } from "../../engine/index.ts";
import type { View } from "../../table/index.ts";
import { placeInOrder, placeOf, showLines } from "../dom.ts";
import { showValue } from "./showValue.ts";
import { stoppable } from "../stoppable.ts";

/** A copy of the template that shows one row. */
interface Copy {
  readonly element: HTMLElement;
  readonly outputs: readonly (readonly [element: Element, name: string, standIn: string])[];
  shown: unknown;
}

/** Shows each row of a view by a copy of the container's `<template>`; a copy stays with its row wherever that goes. */
export function showRows(container: Element, view: View): Stoppable {
  const template = templateIn(container);
  const names = view.table.model.names;
  for (const element of namedIn(template)) {
    const name = element.getAttribute("data-name")!;
    if (!names.includes(name))
      throw unknownName("unknownField", "The field", name, names, `the template in ${placeOf(container)}`);
  }
  const copies = new Map<unknown, Copy>();
  const showing = mirror(() => {
    const keys = view.keys();
    const rows = view.rows();
    const gone = new Set(copies.keys());
    const wanted = keys.map((key, place) => {
      const found = lookUp(key);
      gone.delete(found);
      let copy = copies.get(found);
      if (copy === undefined) copies.set(found, (copy = copyOf(template)));
      fill(copy, rows[place], view);
      return copy.element;
    });
    for (const key of gone) {
      copies.get(key)!.element.remove();
      copies.delete(key);
    }
    placeInOrder(container, wanted, container.querySelector(":scope > template")!.nextElementSibling);
  }, "rows");
  return stoppable(() => {
    showing.stop();
    for (const { element } of copies.values()) element.remove();
  });
}

function templateIn(container: Element): HTMLElement {
  const template = container.querySelector<HTMLTemplateElement>(":scope > template");
  const [first, ...more] = template?.content.children ?? [];
  if (first !== undefined && more.length === 0) return first as HTMLElement;
  throw new IronwoodError("wrongOption", `${placeOf(container)} has no template for its rows`, {
    expected: "a <template> right inside it, with one element in it",
  });
}

/** A key of several fields is another list each time. */
const lookUp = (key: unknown): unknown => (Array.isArray(key) ? JSON.stringify(key) : key);

const namedIn = (element: HTMLElement): readonly Element[] => [
  ...(element.hasAttribute("data-name") ? [element] : []),
  ...element.querySelectorAll("[data-name]"),
];

function copyOf(template: HTMLElement): Copy {
  const element = template.cloneNode(true) as HTMLElement;
  return {
    element,
    outputs: namedIn(element).map((each) => [each, each.getAttribute("data-name")!, each.textContent] as const),
    shown: undefined,
  };
}

function fill(copy: Copy, row: unknown, { table }: View): void {
  if (copy.shown === row) return;
  for (const [element, name, standIn] of copy.outputs) {
    const text = showValue(row, name, table);
    showLines(element, text === "" ? standIn : text);
  }
  copy.shown = row;
}
