import { type Field, newEntry } from "../entry/index.ts";
import { boolean, integer, model, number, text } from "../model/index.ts";

/** A control under test, and what acts on it as a person does. */
export interface ControlUnderTest {
  /** Types a text over what is there, with the focus. */
  type(text: string): void | Promise<void>;
  /** Goes somewhere else. */
  leave(): void | Promise<void>;
  /** Moves so many steps, where the control can. */
  step?(times: number): void | Promise<void>;
  /** What a person sees. */
  seen(): Seen | Promise<Seen>;
  /** Ends the binding. */
  stop(): void;
}

/** What a person sees of a control. */
export interface Seen {
  /** The text that it shows. */
  readonly text: string;
  /** The messages beside it, in one text; blank when nothing is wrong. */
  readonly problem: string;
  /** Whether it can't be changed. */
  readonly readOnly: boolean;
  /** Whether it is marked as one that has to be given. */
  readonly required: boolean;
  /** Whether it is there at all. */
  readonly relevant: boolean;
}

/** One thing that every control has to keep to. */
export interface ConformanceCheck {
  /** What is checked. */
  readonly name: string;
  /**
   * Makes a control, acts on it, and looks at what came of it.
   *
   * @throws with what was seen and what would be right
   */
  run(): Promise<void>;
}

const tree = model({
  girth: number({ required: true, unit: "centimeter", minimum: 0 }),
  stems: integer({ minimum: 1, maximum: 5, default: 2 }),
  notes: text({ tidy: { trim: true } }),
  hidden: boolean(),
  locked: boolean(),
})
  .relevant({ notes: (t) => !t.hidden })
  .readOnly({ girth: (t) => t.locked });

/**
 * Whether a toolkit's control keeps to the contract of `attachControl`.
 *
 * @param attach - makes the control for a field and gives what acts on it; called anew for each check
 * @returns the checks, for any test runner
 * @example for (const { name, run } of controlConformance((field) => new MyTextBox(field))) test(name, run);
 */
export function controlConformance(
  attach: (field: Field<never>) => ControlUnderTest | Promise<ControlUnderTest>,
): readonly ConformanceCheck[] {
  const begin = (): ReturnType<typeof newEntry<typeof tree>> => newEntry(tree, { locale: "en" });
  type Entry = ReturnType<typeof begin>;
  const check = (
    name: string,
    field: "girth" | "stems" | "notes",
    work: (control: ControlUnderTest, entry: Entry) => Promise<void>,
  ): ConformanceCheck => ({
    name,
    async run() {
      const entry = begin();
      const control = await attach(entry.fields[field] as Field<never>);
      try {
        await work(control, entry);
      } finally {
        control.stop();
      }
    },
  });
  return [
    check("shows the default at once", "stems", async (control) => {
      same((await control.seen()).text, "2", "the text");
    }),
    check("shows what code sets, in the display format", "girth", async (control, entry) => {
      entry.values.girth = 31.5;
      same((await control.seen()).text, "31.5 cm", "the text");
    }),
    check(
      "takes what is typed, as it is typed, and shows the display format once it is left",
      "girth",
      async (control, entry) => {
        await control.type("1,234.50");
        same((await control.seen()).text, "1,234.50", "the text while it is typed");
        same(entry.values.girth, 1234.5, "the value");
        await control.leave();
        same((await control.seen()).text, "1,234.5 cm", "the text once it was left");
      },
    ),
    check("keeps what can't be read, and explains it once it is left", "girth", async (control, entry) => {
      await control.type("about 90");
      same((await control.seen()).problem, "", "the problem while it is typed");
      await control.leave();
      const { text: shown, problem } = await control.seen();
      same(shown, "about 90", "the text");
      same(problem.includes("This is not a number"), true, `whether the problem ${JSON.stringify(problem)} says so`);
      same(entry.values.girth, undefined, "the value");
    }),
    check(
      "shows the problem of a field that was not touched once a save is tried, and drops it when it is put right",
      "girth",
      async (control, entry) => {
        same((await control.seen()).problem, "", "the problem before");
        void entry.check();
        same((await control.seen()).problem !== "", true, "whether there is a problem");
        await control.type("5");
        same((await control.seen()).problem, "", "the problem after");
      },
    ),
    check("tells that it is required, and that it is not", "girth", async (control) => {
      same((await control.seen()).required, true, "whether it is required");
    }),
    check("refuses a person while it is read-only, and takes what code sets", "girth", async (control, entry) => {
      entry.values.locked = true;
      await control.type("5");
      await control.leave();
      same(entry.values.girth, undefined, "the value");
      same((await control.seen()).readOnly, true, "whether it is read-only");
      entry.values.girth = 7;
      same((await control.seen()).text, "7 cm", "the text");
    }),
    check("is not there while it is not relevant, and is back with what it held", "notes", async (control, entry) => {
      await control.type(" leans ");
      await control.leave();
      entry.values.hidden = true;
      same((await control.seen()).relevant, false, "whether it is there");
      entry.values.hidden = false;
      const { relevant, text: shown } = await control.seen();
      same(relevant, true, "whether it is there");
      same(shown, "leans", "the text");
    }),
    check("shows what a revert brings back", "stems", async (control, entry) => {
      await control.type("4");
      await control.leave();
      entry.revert();
      same((await control.seen()).text, "2", "the text");
    }),
    check(
      "leaves what is typed while code changes the field, says so, and shows the change once it is left",
      "stems",
      async (control, entry) => {
        await control.type("4");
        entry.values.stems = 3;
        const { text: typed, problem } = await control.seen();
        same(typed, "4", "the text while it is typed");
        same(problem.includes("Changed elsewhere too"), true, `whether the problem ${JSON.stringify(problem)} says so`);
        await control.leave();
        same((await control.seen()).text, "3", "the text once it was left");
      },
    ),
    check("gets a blanked default back when it is left", "stems", async (control, entry) => {
      await control.type("");
      await control.leave();
      same((await control.seen()).text, "2", "the text");
      same(entry.values.stems, 2, "the value");
    }),
    check("steps inside its limits, where it can step", "stems", async (control, entry) => {
      if (control.step === undefined) return;
      await control.step(10);
      same(entry.values.stems, 5, "the value");
    }),
    check("follows nothing once it was stopped", "stems", async (control, entry) => {
      control.stop();
      // It may leave what it showed, or what was there before it.
      const { text: before } = await control.seen();
      entry.values.stems = 5;
      same((await control.seen()).text, before, "the text");
    }),
  ];
}

function same(seen: unknown, right: unknown, what: string): void {
  if (seen !== right)
    throw new Error(`Of ${what}, ${JSON.stringify(seen)} was seen. Right would be ${JSON.stringify(right)}.`);
}
