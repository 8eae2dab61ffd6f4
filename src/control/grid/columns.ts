/** How the columns of a grid are laid out, as a person left it: it can be kept as JSON. */
export interface GridLayout {
  /** The names of the columns in order; those that are hidden are among them. */
  readonly order: readonly string[];
  /** The columns that are not shown. */
  readonly hidden: readonly string[];
  /** Widths that a person has set, in CSS pixels. */
  readonly widths: Readonly<Record<string, number>>;
}

/** No column is narrower than this, in CSS pixels. */
const NARROWEST = 40;

/** A layout for these columns: what one that was kept says of columns that there are, and the others at their places. */
export function layoutFrom(names: readonly string[], kept: Partial<GridLayout> | undefined): GridLayout {
  const known = (list: unknown): string[] =>
    Array.isArray(list) ? [...new Set(list as string[])].filter((name) => names.includes(name)) : [];
  const order = known(kept?.order);
  for (const [place, name] of names.entries()) if (!order.includes(name)) order.splice(place, 0, name);
  const hidden = known(kept?.hidden);
  const widths: Record<string, number> = {};
  for (const name of names) {
    const width: unknown =
      kept?.widths !== undefined && Object.hasOwn(kept.widths, name) ? kept.widths[name] : undefined;
    if (typeof width === "number" && Number.isFinite(width)) widths[name] = Math.max(NARROWEST, Math.round(width));
  }
  return { order, hidden: hidden.length < order.length ? hidden : hidden.slice(1), widths };
}

/** The columns that are seen, in order. */
export const seenColumns = ({ order, hidden }: GridLayout): readonly string[] =>
  order.filter((name) => !hidden.includes(name));

export function withWidth(layout: GridLayout, name: string, width: number): GridLayout {
  return { ...layout, widths: { ...layout.widths, [name]: Math.max(NARROWEST, Math.round(width)) } };
}

/** Moves a column by so many places among those that are seen. */
export function moved(layout: GridLayout, name: string, by: number): GridLayout {
  const seen = [...seenColumns(layout)];
  const from = seen.indexOf(name);
  const to = Math.min(seen.length - 1, Math.max(0, from + by));
  if (from < 0 || to === from) return layout;
  const beside = seen[to]!;
  const order = layout.order.filter((each) => each !== name);
  order.splice(order.indexOf(beside) + (to > from ? 1 : 0), 0, name);
  return { ...layout, order };
}

/** Hides a column or shows it again; the last that is seen stays. */
export function withHidden(layout: GridLayout, name: string, hide: boolean): GridLayout {
  const others = layout.hidden.filter((each) => each !== name);
  if (!hide) return { ...layout, hidden: others };
  const seen = seenColumns(layout);
  return seen.length <= 1 || !seen.includes(name) ? layout : { ...layout, hidden: [...others, name] };
}
