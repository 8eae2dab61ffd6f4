import { unknownName } from "../../errors/index.ts";
import { mirror, type Stoppable, getOrMake } from "../../engine/index.ts";
import type { ViewState } from "../../table/index.ts";
import { placeInOrder, placeOf } from "../dom.ts";
import { stoppable } from "../stoppable.ts";
import { followUntoldChoices } from "./untoldChoice.ts";

/** The text of a row in a list: a field, several fields with commas between, or a function of the builder. */
export type ListText<Row> = string | readonly string[] | ((row: Row) => string);

/**
 * Shows the rows of a view as the options of a `select`: one that takes several shows and sets what is selected in the view,
 * any other its current row. Lists of one view are in step, whatever each shows of the rows.
 */
export function showList(select: HTMLSelectElement, view: ViewState, text: ListText<never> | undefined): Stoppable {
  const { table } = view;
  const wordsOf = textOf(select, view, text);
  const options = new Map<number, HTMLOptionElement>();
  const made = new Set<HTMLOptionElement>();
  const shown = new WeakMap<HTMLOptionElement, object>();
  const newOption = (): HTMLOptionElement => {
    const option = select.ownerDocument.createElement("option");
    made.add(option);
    return option;
  };
  // A list that shows one line only can't look empty; nothing is chosen until somebody chooses.
  const blank = !select.multiple && select.size <= 1 ? newOption() : undefined;
  if (blank !== undefined) blank.value = "";
  let shownIn: string | undefined;
  const show = (): void => {
    const slots = view.slots();
    const { locale } = table;
    const isOfNow = locale === shownIn;
    shownIn = locale;
    const there = new Set(slots);
    for (const [slot, option] of options)
      if (!there.has(slot)) {
        option.remove();
        options.delete(slot);
        made.delete(option);
      }
    if (blank !== undefined && select.firstElementChild !== blank) select.prepend(blank);
    const wanted = slots.map((slot) => {
      const option = getOrMake(options, slot, () => newOption());
      const row = table.rowAt(slot)!;
      if (!isOfNow || shown.get(option) !== row) {
        option.value = String(slot);
        option.textContent = wordsOf(row);
        shown.set(option, row);
      }
      return option;
    });
    placeInOrder(select, wanted, blank === undefined ? select.firstElementChild : blank.nextElementSibling);
    showChosen();
  };
  const showChosen = (): void => {
    markChosen();
    known.note();
  };
  const markChosen = (): void => {
    if (select.multiple) {
      for (const [slot, option] of options) option.selected = view.isSelectedAt(slot);
      return;
    }
    const key = view.currentKey;
    const current = key === undefined ? undefined : options.get(table.slotFor(key)!);
    if (current !== undefined) current.selected = true;
    else if (blank !== undefined) blank.selected = true;
    else select.selectedIndex = -1;
    if (blank !== undefined) blank.disabled = current !== undefined;
  };
  const change = (): void => {
    const keys = [...select.selectedOptions].flatMap(({ value }) => (value === "" ? [] : [table.keyAt(Number(value))]));
    if (select.multiple) view.selectedKeys = keys;
    else view.currentKey = keys[0];
    // What says no to leaving a row may have put back the one before.
    showChosen();
  };
  const known = followUntoldChoices(select, change);
  const showing = mirror(show, "a list");
  select.addEventListener("change", change);
  return stoppable(() => {
    showing.stop();
    known.stop();
    select.removeEventListener("change", change);
    for (const option of made) option.remove();
  });
}

function textOf(
  select: HTMLSelectElement,
  view: ViewState,
  given: ListText<never> | undefined,
): (row: object) => string {
  if (typeof given === "function") return given as (row: object) => string;
  const { model } = view.table;
  const names = [given ?? model.parts.key[0] ?? model.names[0]!].flat();
  for (const name of names)
    if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, placeOf(select));
  return (row) =>
    names
      .map((name) => view.table.showField(row, name))
      .filter((text) => text !== "")
      .join(", ");
}
