import { describe, expect, test } from "@jest/globals";
import { HeadlessControl } from "../src/control/index.ts";
import { type Field, newEntry } from "../src/entry/index.ts";
import { boolean, integer, list, model, number, oneOf, someOf, text } from "../src/model/index.ts";
import { fillEntry, type Terminal, TerminalControl } from "../src/terminal/index.ts";
import { controlConformance, type ControlUnderTest } from "../src/testing/index.ts";

const seenOf = (control: { state: HeadlessControl["state"] }, text: string) => ({
  text,
  problem: control.state.problems.map(({ message }) => message).join("\n"),
  readOnly: control.state.readOnly,
  required: control.state.required,
  relevant: control.state.relevant,
});

function headless(field: Field): ControlUnderTest {
  const control = new HeadlessControl(field);
  return {
    type: (typed) => control.type(typed),
    leave: () => control.leave(),
    step: (times) => control.step(times),
    seen: () => seenOf(control, control.text),
    stop: () => control.stop(),
  };
}

/** In a terminal, what is typed is seen in its line, and what it comes to in the next prompt. */
function inTerminal(field: Field): ControlUnderTest {
  const control = new TerminalControl(field, { write: () => undefined, ask: () => Promise.resolve(undefined) });
  let line: string | undefined;
  return {
    type(typed) {
      line = typed;
      control.take(typed === "" ? "-" : typed);
    },
    leave() {
      line = undefined;
      control.leave();
    },
    seen: () => seenOf(control, line ?? control.state.display),
    stop: () => control.stop(),
  };
}

describe.each([
  ["headless", headless],
  ["terminal", inTerminal],
] as const)("the control contract: %s", (_, attach) => {
  test.each(controlConformance((field) => attach(field as Field)).map(({ name, run }) => [name, run] as const))(
    "%s",
    (_name, run) => run(),
  );
});

test("the conformance test finds a control that does not keep to the contract", async () => {
  const deaf = controlConformance((field) => ({ ...headless(field), leave: () => undefined }));
  const failed: string[] = [];
  for (const { name, run } of deaf)
    await run().catch((reason: unknown) => failed.push(`${name}: ${(reason as Error).message}`));
  expect(failed.length).toBeGreaterThan(2);
  expect(failed[0]).toMatch(
    /display format once it is left: Of the text once it was left, "1,234.50" was seen\. Right would be "1,234.5 cm"\./,
  );
});

describe("filling an entry in a terminal", () => {
  const tree = model(
    {
      tag: text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4}", examples: ["AB-0042"] }),
      species: oneOf(["Quercus robur", "Tilia cordata"], { title: "Species", required: true }),
      hazards: someOf(["leaning", "cavity"], { title: "Hazards" }),
      girth: number({ title: "Girth", unit: "centimeter", minimum: 0 }),
      fenced: boolean({ title: "Fenced" }),
      fenceCost: number({ title: "Fence cost" }),
      stems: integer({ title: "Stems", default: 1 }),
    },
    { title: "Tree card", key: "tag" },
  ).relevant({ fenceCost: (t) => t.fenced });

  function scripted(answers: string[]): Terminal & { said: string[] } {
    const said: string[] = [];
    return {
      said,
      write: (line) => void said.push(line),
      ask(prompt) {
        const answer = answers.shift();
        said.push(`${prompt}${answer ?? ""}`);
        return Promise.resolve(answer);
      },
    };
  }

  test("asks until an answer is right, leaves out what is not relevant, and saves", async () => {
    const saved: unknown[] = [];
    const entry = newEntry(tree, { locale: "en", save: (row) => void saved.push(row) });
    const terminal = scripted(["oak", "AB-0042", "2", "1, 2", "about 90", "90", "no", "-"]);
    expect(await fillEntry(entry, terminal)).toBe(true);
    expect(saved).toEqual([
      {
        tag: "AB-0042",
        species: "Tilia cordata",
        hazards: ["leaning", "cavity"],
        girth: 90,
        fenced: false,
        fenceCost: undefined,
        stems: 1,
      },
    ]);
    expect(terminal.said).toEqual(
      expect.arrayContaining([
        "Tag *: oak",
        "  ! Enter it like AB-0042.",
        "Tag * [oak]: AB-0042",
        "  2  Tilia cordata",
        "  ! This is not a number. Enter a number, such as 31.5.",
        "Saved AB-0042.",
      ]),
    );
    expect(terminal.said.some((line) => line.startsWith("Fence cost"))).toBe(false);
  });

  test("what was passed over and is wrong is told in the end, and asked for again", async () => {
    const entry = newEntry(tree, { locale: "en", save: () => "kept" });
    const terminal = scripted(["AB-0042", "", "", "", "", "", "1"]);
    expect(await fillEntry(entry, terminal)).toBe(true);
    expect(terminal.said).toContain("  ! /species: Choose one.");
    expect(entry.values.species).toBe("Quercus robur");
  });

  test("a problem inside a list leads back to the field that holds it", async () => {
    const names = model({ names: list(text({ maxLength: 3 }), { title: "Names" }) });
    const entry = newEntry(names, { locale: "en", values: { names: ["too long"] }, save: () => "kept" });
    const terminal = scripted(["", "oak"]);
    expect(await fillEntry(entry, terminal)).toBe(true);
    expect(terminal.said).toContain("  ! /names/0: At most 3 characters; this has 8.");
    expect(entry.values.names).toEqual(["oak"]);
  });

  test("when the lines end, nothing is saved and nothing is lost", async () => {
    const entry = newEntry(tree, { locale: "en" });
    expect(await fillEntry(entry, scripted(["AB-0042"]))).toBe(false);
    expect(entry.values.tag).toBe("AB-0042");
  });
});
