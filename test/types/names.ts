/** Compiled, not run: names of fields are typed wherever they are written, so that a field that is renamed breaks the build. */
import { date, decimal, group, integer, model, moveRows, table, text, view } from "../../src/index.ts";
import { fileStore, folderStore } from "../../src/files/index.ts";
import type { GridOptions } from "../../src/page/index.ts";

const plant = model(
  { tag: text({ required: true }), count: integer(), price: decimal(), sown: date(), place: group({ bed: integer() }) },
  { key: "tag" },
).calculated({ double: (row) => (row.count ?? 0) * 2 });
const kinds = table(plant, []);
const stock = table(plant, [], { unique: ["tag", ["sown", "place.bed"]], references: { "place.bed": kinds } });
const shown = view(stock, { orderBy: ["place.bed", "double desc", { name: "sown" }], searchIn: ["tag", "place.bed"] });
shown.orderBy = "count asc";
export const grid: GridOptions<typeof plant> = {
  columns: ["tag", { name: "place.bed" }],
  totals: ["count", "price", "double", "place.bed"],
  reorder: "count",
};
export const right = [
  moveRows(stock, kinds, ["A"], { quantity: "count", join: ["tag", "place.bed"] }),
  shown.groups("place.bed", ["price"]),
  fileStore("a.csv", plant, { columns: ["tag", "place.bed"] }),
  folderStore("a", plant, { fileName: ["tag", "double", "place.bed"] }),
];

export const wrong = [
  // @ts-expect-error: no such field
  () => table(plant, [], { unique: ["tga"] }),
  // @ts-expect-error: no such field
  () => table(plant, [], { references: { bed: kinds } }),
  // @ts-expect-error: no such field
  () => view(stock, { orderBy: "place.bde" }),
  // @ts-expect-error: no such direction
  () => view(stock, { orderBy: "count up" }),
  // @ts-expect-error: no such field
  () => view(stock, { searchIn: ["notes"] }),
  // @ts-expect-error: no such field
  () => (shown.orderBy = "cuont"),
  // @ts-expect-error: a date can't be added
  () => shown.total("sown"),
  // @ts-expect-error: a text can't be added
  () => shown.groups("sown", ["tag"]),
  // @ts-expect-error: no such field
  () => moveRows(stock, kinds, [], { quantity: "amount" }),
  // @ts-expect-error: no such field
  () => moveRows(stock, kinds, [], { join: ["bed"] }),
  // @ts-expect-error: no such field
  () => fileStore("a.csv", plant, { columns: ["tga"] }),
  // @ts-expect-error: no such field
  () => folderStore("a", plant, { fileName: ["tga"] }),
];
// @ts-expect-error: no such field
export const columns: GridOptions<typeof plant> = { columns: ["tga"] };
// @ts-expect-error: a text can't be added
export const totals: GridOptions<typeof plant> = { totals: ["tag"] };
// @ts-expect-error: no such field
export const reorder: GridOptions<typeof plant> = { reorder: "order" };
