// A stand-in for the registry of plots, which elsewhere would be another firm's service: it knows who surveys what, and
// can be slow, out of order, or gone.
import { Hono } from "hono";

/** Who is surveying which plot, in the demo's data. */
const keepers = new Map([
  ["P-13", "DW"],
  ["P-99", "MK"],
]);

/** How long the registry takes, in milliseconds, by how it is told to behave. */
const delays = { prompt: 20, slow: 2_000, failing: 20, gone: 0 };

export function plotRegistry() {
  /** What was asked, and whether whoever asked waited for the answer: for tests. */
  const asked = [];
  const service = new Hono();
  service.get("/:plot", async (context) => {
    const behaviour = context.req.query("behaviour") ?? "prompt";
    const one = { plot: context.req.param("plot"), aborted: false };
    asked.push(one);
    const { signal } = context.req.raw;
    signal.addEventListener("abort", () => (one.aborted = true));
    if (behaviour === "gone")
      return new Promise((done) => signal.addEventListener("abort", () => done(context.body(null, 499))));
    await new Promise((done) => setTimeout(done, delays[behaviour] ?? delays.prompt));
    if (behaviour === "failing") return context.json({ title: "The registry is out of order." }, 503);
    return context.json({ keeper: keepers.get(one.plot) });
  });
  return { service, asked, keeperOf: (plot) => Promise.resolve(keepers.get(plot)) };
}
