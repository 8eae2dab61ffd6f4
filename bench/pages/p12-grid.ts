/** P12: a grid over 1,000,000 rows: opened, scrolled, and sent to its end. By hand: a fixed table of the rows that are seen. */
import { integer, model, number, oneOf, type RowOf, table, text, view } from "../../src/index.ts";
import { bindGrid } from "../../src/page/index.ts";

const ROWS = 1_000_000;
const FRAMES = 400;
const plant = model(
  {
    id: integer({ title: "Id" }),
    species: oneOf(["Acer campestre", "Betula pendula", "Tilia cordata"], { title: "Species" }),
    height: number({ title: "Height", unit: "centimeter" }),
    count: integer({ title: "Plants", maximum: 5000 }),
    price: number({ title: "Price", display: { minimumFractionDigits: 2 } }),
    bed: integer({ title: "Bed" }),
    notes: text({ title: "Notes" }),
  },
  { key: "id" },
);
const names = ["id", "species", "height", "count", "price", "bed", "notes"] as const;

function rows(): RowOf<typeof plant>[] {
  return Array.from({ length: ROWS }, (_, id) => ({
    id,
    species: (["Acer campestre", "Betula pendula", "Tilia cordata"] as const)[id % 3],
    height: (id * 7919) % 400,
    count: (id * 31) % 60,
    price: ((id * 104_729) % 6000) / 100,
    bed: id % 120,
    notes: id % 5 === 0 ? "north wall" : "",
  }));
}

function newTable(): HTMLTableElement {
  const box = document.createElement("div");
  box.style.blockSize = "600px";
  const element = document.createElement("table");
  box.append(element);
  document.body.replaceChildren(box);
  return element;
}

function byHand(all: readonly RowOf<typeof plant>[], seen: number): number {
  const start = performance.now();
  const element = newTable();
  for (let place = 0; place < seen; place++) {
    const row = element.insertRow();
    for (const name of names) row.insertCell().textContent = String(all[place]![name] ?? "");
  }
  // It is measured with its layout.
  layouts += element.getBoundingClientRect().height;
  return performance.now() - start;
}

let layouts = 0;

const at = (times: number[], part: number): number =>
  times.toSorted((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * part))]!;
const frame = (): Promise<unknown> => new Promise((resolve) => requestAnimationFrame(resolve));

/** What the grid does about a scroll, which comes by itself a moment later as well. */
function scroll(window: HTMLElement, to: number): number {
  window.scrollTop = to;
  const start = performance.now();
  window.dispatchEvent(new Event("scroll"));
  return performance.now() - start;
}

export async function p12(): Promise<Record<"open" | "byHand" | "scroll" | "jump" | "rows", number>> {
  const all = rows();
  const stock = table(plant, all, { locale: "en" });
  const opens: number[] = [];
  const hands: number[] = [];
  let seen = 0;
  for (let round = 0; round < 11; round++) {
    const element = newTable();
    await frame();
    const start = performance.now();
    const grid = bindGrid(element, view(stock), { edit: "row" });
    layouts += element.getBoundingClientRect().height;
    opens.push(performance.now() - start);
    seen = Math.floor((600 - element.tHead!.offsetHeight) / element.tBodies[0]!.rows[1]!.offsetHeight);
    grid.stop();
    hands.push(byHand(all, seen));
  }
  const element = newTable();
  const shown = view(stock, { orderBy: "price" });
  bindGrid(element, shown, { edit: "row" });
  const box = element.parentElement!;
  const frames: number[] = [];
  let most = 0;
  for (let number = 1; number <= FRAMES; number++) {
    // Slowly, by half a window, and by the scroll bar.
    const by = number % 40 === 0 ? 300_000 : number % 10 === 0 ? 280 : 90;
    frames.push(scroll(box, box.scrollTop + by));
    most = Math.max(most, element.tBodies[0]!.rows.length - 2);
    await frame();
  }
  const jumps: number[] = [];
  for (let round = 0; round < 11; round++) {
    scroll(box, 0);
    await frame();
    jumps.push(scroll(box, box.scrollHeight));
    await frame();
  }
  const last = [...element.tBodies[0]!.rows].at(-2)!;
  if (last.getAttribute("aria-rowindex") !== String(ROWS + 1)) throw new Error("P12: the last row is not there");
  if (layouts === 0) throw new Error("P12: nothing was laid out");
  return {
    open: at(opens, 0.5),
    byHand: at(hands, 0.5),
    scroll: at(frames, 0.95),
    jump: at(jumps, 0.5),
    rows: most / seen,
  };
}
