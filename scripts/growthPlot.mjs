/** Draws how the work on tables grows, as an SVG with both axes in powers of ten. */

const [width, height] = [960, 560];
const [left, right, top, bottom] = [76, 300, 56, 56];
const colours = ["#2a6248", "#0f5ea8", "#9c2b1b", "#7a5200", "#5b3b8c", "#55625c"];
const marks = ["circle", "square", "triangle", "diamond", "cross", "ring"];

const log = Math.log10;
const power = (exponent) => (exponent < 0 ? String(10 ** exponent) : (10 ** exponent).toLocaleString("en"));

function mark(kind, x, y, colour) {
  const at = `transform="translate(${x.toFixed(1)} ${y.toFixed(1)})" fill="${colour}"`;
  switch (kind) {
    case "square":
      return `<rect ${at} x="-4" y="-4" width="8" height="8"/>`;
    case "triangle":
      return `<path ${at} d="M0-5 5 4H-5Z"/>`;
    case "diamond":
      return `<path ${at} d="M0-6 5 0 0 6-5 0Z"/>`;
    case "cross":
      return `<path ${at} stroke="${colour}" stroke-width="2" d="M-4-4 4 4M-4 4 4-4"/>`;
    case "ring":
      return `<circle ${at} r="4" style="fill:none;stroke:${colour};stroke-width:2"/>`;
    default:
      return `<circle ${at} r="4.5"/>`;
  }
}

/** @param growth - what `npm run bench -- growth` has written to bench/growth.json */
export function growthPlot({ machine, counts, lines }) {
  const x = (count) => left + ((log(count) - 3) / 3) * (width - left - right);
  const [low, high] = [-3, 4];
  const y = (value) =>
    height - bottom - ((log(Math.max(value, 10 ** low)) - low) / (high - low)) * (height - top - bottom);
  const parts = [];
  for (let exponent = low; exponent <= high; exponent++) {
    const at = y(10 ** exponent).toFixed(1);
    parts.push(`<path d="M${left} ${at}H${width - right}" stroke="#d5d7cd"/>`);
    parts.push(`<text x="${left - 8}" y="${Number(at) + 4}" text-anchor="end">${power(exponent)}</text>`);
  }
  for (const exponent of [3, 4, 5, 6]) {
    const at = x(10 ** exponent).toFixed(1);
    parts.push(`<path d="M${at} ${top}V${height - bottom}" stroke="#d5d7cd"/>`);
    parts.push(`<text x="${at}" y="${height - bottom + 20}" text-anchor="middle">${power(exponent)}</text>`);
  }
  const places = lines.map(({ values }) => y(values.at(-1)));
  // Names beside the ends of their lines, apart from each other.
  const order = places.map((_, place) => place).sort((a, b) => places[a] - places[b]);
  order.forEach((place, number) => {
    const before = number === 0 ? -Infinity : places[order[number - 1]];
    places[place] = Math.max(places[place], before + 34);
  });
  lines.forEach(({ name, unit, values }, place) => {
    const colour = colours[place];
    const points = values.map((value, number) => [x(counts[number]), y(value)]);
    const dash = unit === "ms" ? "" : ' stroke-dasharray="6 4"';
    parts.push(
      `<polyline fill="none" stroke="${colour}" stroke-width="2"${dash} points="${points.map((each) => each.map((one) => one.toFixed(1)).join(",")).join(" ")}"/>`,
      ...points.map(([a, b]) => mark(marks[place], a, b, colour)),
      `<text x="${width - right + 14}" y="${places[place].toFixed(1)}" fill="${colour}" font-weight="600">${name}</text>`,
      `<text x="${width - right + 14}" y="${(places[place] + 15).toFixed(1)}" font-size="12">${values.at(-1).toLocaleString("en")} ${unit} at 1,000,000</text>`,
    );
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="system-ui, sans-serif" font-size="13" fill="#1f2a26" role="img" aria-label="How the work on tables grows with the number of rows">
<rect width="${width}" height="${height}" fill="#fffefb"/>
<text x="${left}" y="26" font-size="17" font-weight="600">How the work grows with the number of rows</text>
<text x="${left}" y="44" font-size="12" fill="#55625c">milliseconds, and bytes a row (dashed); ${machine}</text>
${parts.join("\n")}
<text x="${(left + width - right) / 2}" y="${height - 14}" text-anchor="middle">rows</text>
</svg>
`;
}
