import { IronwoodError, unknownName } from "../../errors/index.ts";
import { commandName } from "../../markup/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { fullName, isControl, placeOf } from "../dom.ts";
import { ownsNames } from "./copies.ts";

/** What a template names: fields by controls and outputs, commands by buttons. */
type Part = { readonly what: "control" | "output" | "command"; readonly name: string };

/** A copy of a template, and what in it is named. */
export interface Copy {
  readonly element: HTMLElement;
  readonly parts: readonly (Part & { readonly element: HTMLElement })[];
  /** Tells it from other copies of the page: ids and names made for it have it in them. */
  readonly number: number;
}

/** Attributes that name other elements by their ids. */
const references = [
  "for",
  "list",
  "headers",
  "popovertarget",
  "commandfor",
  "aria-labelledby",
  "aria-describedby",
  "aria-controls",
  "aria-owns",
  "aria-details",
  "aria-errormessage",
  "aria-flowto",
];

let copied = 0;

/** The `<template>` of a container, whose copies show rows: names in it are relative to the row. */
export class RowTemplate {
  readonly element: HTMLElement;
  readonly #parts: readonly Part[];
  readonly #ids: readonly string[];

  /** @throws `wrongOption` where there is none with one element; `unknownField`, `unknownCommand` with the nearest name */
  constructor(container: Element, model: AnyModel, commands: readonly string[]) {
    this.element = templateIn(container);
    const where = `the template in ${placeOf(container)}`;
    this.#parts = withNames(this.element).map((element) => partOf(element, model, commands, where));
    this.#ids = [this.element, ...this.element.querySelectorAll("[id]")].map(({ id }) => id).filter((id) => id !== "");
  }

  /** Whether something in it can be changed. */
  get edits(): boolean {
    return this.#parts.some(({ what }) => what === "control");
  }

  /** The elements that show fields, with the names of these. */
  get shown(): readonly { readonly element: Element; readonly name: string }[] {
    return withNames(this.element).flatMap((element, place) => {
      const { what, name } = this.#parts[place]!;
      return what === "command" ? [] : [{ element, name }];
    });
  }

  copy(): Copy {
    const element = this.element.cloneNode(true) as HTMLElement;
    const number = ++copied;
    ownsNames(element);
    if (this.#ids.length > 0) this.#giveOwnIds(element, number);
    const parts = withNames(element).map((each, place) => ({ ...this.#parts[place]!, element: each }));
    return { element, parts, number };
  }

  #giveOwnIds(copy: Element, number: number): void {
    const own = (id: string): string => (this.#ids.includes(id) ? `${id}-${number}` : id);
    for (const element of [copy, ...copy.querySelectorAll("*")]) {
      if (element.id !== "") element.id = own(element.id);
      for (const name of references) {
        const ids = element.getAttribute(name);
        if (ids !== null) element.setAttribute(name, ids.split(/\s+/).map(own).join(" "));
      }
      const link = element.getAttribute("href");
      if (link?.startsWith("#") === true) element.setAttribute("href", `#${own(link.slice(1))}`);
    }
  }
}

function templateIn(container: Element): HTMLElement {
  const template = container.querySelector<HTMLTemplateElement>(":scope > template");
  const [first, ...more] = template?.content.children ?? [];
  if (first !== undefined && more.length === 0) return first as HTMLElement;
  throw new IronwoodError("wrongOption", `${placeOf(container)} has no template for its rows`, {
    expected: "a <template> right inside it, with one element in it",
  });
}

const withNames = (root: HTMLElement): readonly HTMLElement[] =>
  [root, ...root.querySelectorAll<HTMLElement>("*")].filter(
    (element) =>
      element.hasAttribute("data-name") ||
      // A name says nothing of a field where it is that of a group of details, a slot or the like.
      (element.hasAttribute("name") && (element.localName === "output" || isControl(element))) ||
      isCommand(element),
  );

const isCommand = (element: Element): boolean =>
  element.localName === "button" && element.getAttribute("command")?.startsWith("--") === true;

function partOf(element: Element, { names }: AnyModel, commands: readonly string[], where: string): Part {
  if (isCommand(element)) {
    const name = commandName(element.getAttribute("command")!);
    if (!commands.includes(name)) throw unknownName("unknownCommand", "The command", name, commands, where);
    return { what: "command", name };
  }
  const name = fullName(element, true);
  if (!names.includes(name)) throw unknownName("unknownField", "The field", name, names, where);
  return { what: isControl(element) && element.hasAttribute("name") ? "control" : "output", name };
}
