/** Draws the folders of `src/` and who imports whom, from the imports themselves, as an SVG. */
import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, relative, resolve, sep } from "node:path";

const [boxWidth, boxHeight, gapX, gapY, margin] = [116, 40, 20, 58, 24];

/** Of each folder the folders that it imports. */
export function roomsOf(source) {
  const rooms = new Map();
  for (const { name: folder } of readdirSync(source, { withFileTypes: true })
    .filter((each) => each.isDirectory())
    .sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const found = new Set();
    for (const name of readdirSync(join(source, folder), { recursive: true, encoding: "utf8" })) {
      if (!name.endsWith(".ts")) continue;
      const file = join(source, folder, name);
      for (const [, path] of readFileSync(file, "utf8").matchAll(/(?:from|import\() ?"(\.[^"]+)"/g)) {
        const [to, ...rest] = relative(source, resolve(dirname(file), path)).split(sep);
        if (to !== folder && rest.length > 0) found.add(to);
      }
    }
    // The same picture, in whatever order files are listed and imports are written.
    rooms.set(folder, { imports: new Set([...found].sort()) });
  }
  return rooms;
}

/** Without the arrows that others imply: what a folder imports by way of another is not drawn again. */
function directArrows(rooms) {
  const reach = (folder, seen = new Set()) => {
    for (const next of rooms.get(folder).imports) if (!seen.has(next)) reach(next, seen.add(next));
    return seen;
  };
  return new Map(
    [...rooms].map(([folder, { imports }]) => [
      folder,
      [...imports].filter((to) => ![...imports].some((other) => other !== to && reach(other).has(to))),
    ]),
  );
}

function levelsOf(rooms) {
  const levels = new Map();
  const level = (folder) => {
    if (!levels.has(folder))
      levels.set(folder, Math.max(-1, ...[...rooms.get(folder).imports].map((to) => level(to))) + 1);
    return levels.get(folder);
  };
  for (const folder of rooms.keys()) level(folder);
  return levels;
}

/** @param source - the folder `src/` */
export function roomsPicture(source) {
  const rooms = roomsOf(source);
  const arrows = directArrows(rooms);
  const levels = levelsOf(rooms);
  const count = Math.max(...levels.values()) + 1;
  const rows = Array.from({ length: count }, (_, at) => [...rooms.keys()].filter((each) => levels.get(each) === at));
  const widest = Math.max(...rows.map((row) => row.length));
  const width = 2 * margin + widest * (boxWidth + gapX) - gapX;
  const height = 2 * margin + count * (boxHeight + gapY) - gapY;
  const places = new Map();
  // Each folder stands above what it imports, as far as the others of its row let it.
  for (const [at, row] of rows.entries()) {
    const wish = (folder) => {
      const below = arrows.get(folder).map((to) => places.get(to).x);
      return below.length === 0 ? width / 2 : below.reduce((sum, x) => sum + x, 0) / below.length;
    };
    row.sort((a, b) => wish(a) - wish(b) || (a < b ? -1 : 1));
    const needed = row.length * (boxWidth + gapX) - gapX;
    const middle = row.reduce((sum, folder) => sum + wish(folder), 0) / row.length;
    const start = Math.min(Math.max(margin, middle - needed / 2), width - margin - needed);
    row.forEach((folder, number) =>
      places.set(folder, {
        x: start + number * (boxWidth + gapX) + boxWidth / 2,
        y: height - margin - boxHeight - at * (boxHeight + gapY),
      }),
    );
  }
  const lines = [...arrows].flatMap(([from, targets]) =>
    targets.map((to) => {
      const [a, b] = [places.get(from), places.get(to)];
      const [y1, y2] = [a.y + boxHeight, b.y - 5];
      // What leads past a row of folders is drawn fainter, since it runs behind them.
      const colour = levels.get(from) - levels.get(to) > 1 ? "#b9c2bc" : "#7d8a83";
      const bend = Math.max(18, (y2 - y1) / 2);
      return `<path d="M${a.x} ${y1}C${a.x} ${y1 + bend} ${b.x} ${y2 - bend} ${b.x} ${y2}" fill="none" stroke="${colour}" stroke-width="1.4" marker-end="url(#to)"/>`;
    }),
  );
  const boxes = [...places].map(([folder, { x, y }]) =>
    [
      `<rect x="${x - boxWidth / 2}" y="${y}" width="${boxWidth}" height="${boxHeight}" rx="6" fill="#fbfbf7" stroke="#2a6248" stroke-width="1.5"/>`,
      `<text x="${x}" y="${y + 25}" text-anchor="middle" font-weight="600" fill="#1d2b24">${folder}</text>`,
    ].join(""),
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="system-ui, sans-serif" font-size="14" role="img" aria-label="The folders of src and what each imports">
<defs><marker id="to" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"><path d="M0 0 8 4 0 8Z" fill="#7d8a83"/></marker></defs>
<rect width="${width}" height="${height}" fill="#f2f2ec"/>
${lines.join("\n")}
${boxes.join("\n")}
</svg>
`;
}
