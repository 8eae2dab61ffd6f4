import { describe, expect, jest, test } from "@jest/globals";
import { because, follow, newHistory, platform, transaction, internal } from "../src/engine/index.ts";
import { type AnyEntry, type Field, type FieldState, newEntry } from "../src/entry/index.ts";
import { editEntry } from "../src/index.ts";
import { command, notices, pressUndo, redoCommand, undoCommand } from "../src/command/index.ts";
import { boolean, integer, model, number, oneOf, text } from "../src/model/index.ts";
import { seeded, times } from "./seeded.ts";

const treeCard = model(
  {
    tag: text({ title: "Tag", tidy: { trim: true, letters: "upper" } }),
    species: oneOf(["Quercus robur", "Alnus glutinosa"]),
    stems: integer({ title: "Stems", default: 1 }),
    girth: number({ title: "Girth" }),
    fenced: boolean(),
    inches: number(),
    keeper: text({ writeOnly: true }),
  },
  { title: "Tree card", key: "tag" },
).proposed({ inches: (t) => t.girth && t.girth / 2.54, girth: (t) => t.inches && t.inches * 2.54 });

const typed = (entry: AnyEntry, name: string, ...texts: string[]): void => {
  for (const each of texts) (entry[internal].core.field(name) as Field).enter(each);
};

/** A clock that the test moves. */
function withClock(): { pass(milliseconds: number): void } {
  let time = 1_000;
  jest.spyOn(platform, "now").mockImplementation(() => time);
  return { pass: (milliseconds) => void (time += milliseconds) };
}

describe("what is one step", () => {
  test("typing in one field is one, until a second passes or the field is left", () => {
    const clock = withClock();
    const card = newEntry(treeCard, { locale: "en" });
    typed(card, "tag", "A", "AB");
    clock.pass(999);
    typed(card, "tag", "AB-");
    clock.pass(1_000);
    typed(card, "tag", "AB-1");
    card.fields.tag.leave();
    typed(card, "tag", "AB-12");
    expect(card.fields.tag.text).toBe("AB-12");
    const texts = [];
    while (card.undo().ok) texts.push(card.fields.tag.text);
    expect(texts).toEqual(["AB-1", "AB-", ""]);
    const again = [];
    while (card.redo().ok) again.push(card.fields.tag.text);
    expect(again).toEqual(["AB-", "AB-1", "AB-12"]);
  });

  test("what leaving makes of a text belongs to its typing; what comes out as it was is no step", () => {
    const card = newEntry(treeCard, { locale: "en" });
    typed(card, "tag", " ab ");
    card.fields.tag.leave();
    expect(card.values.tag).toBe("AB");
    card.undo();
    expect(card.fields.tag.text).toBe("");
    expect(card.undo().ok).toBe(false);
    typed(card, "stems", "");
    card.fields.stems.leave();
    expect(card.values.stems).toBe(1);
    expect(card.history.undoes).toBeUndefined();
  });

  test("a transaction is one, a failing one none, and one that fails inside another takes its part out", () => {
    const card = newEntry(treeCard, { locale: "en" });
    transaction(() => {
      card.values.tag = "AB-1";
      expect(() =>
        transaction(() => {
          card.values.stems = 7;
          throw new Error("no");
        }),
      ).toThrow("no");
      card.values.fenced = true;
    });
    expect(() =>
      transaction(() => {
        card.values.tag = "lost";
        throw new Error("no");
      }),
    ).toThrow("no");
    expect(card.history.undoes?.titles).toEqual(["Tag", "Fenced"]);
    card.undo();
    expect({ ...card.values }).toMatchObject({ tag: "", stems: 1, fenced: false });
    expect(card.undo().ok).toBe(false);
  });

  test("a transaction that fails gives back what could be done again", () => {
    const card = newEntry(treeCard, { locale: "en" });
    card.values.tag = "AB-1";
    card.undo();
    expect(() =>
      transaction(() => {
        card.values.stems = 2;
        throw new Error("no");
      }),
    ).toThrow();
    expect(card.redo().ok).toBe(true);
    expect(card.values.tag).toBe("AB-1");
  });

  test("what followers write because of a change is of the same step", () => {
    const card = newEntry(treeCard, { locale: "en" });
    const following = follow(
      () => card.values.tag,
      (tag) => (card.values.stems = tag.length),
    );
    typed(card, "tag", "abc");
    expect(card.values.stems).toBe(3);
    card.undo();
    expect({ ...card.values }).toMatchObject({ tag: "", stems: 0 });
    expect(card.undo().ok).toBe(false);
    card.redo();
    expect({ ...card.values }).toMatchObject({ tag: "abc", stems: 3 });
    following.stop();
  });

  test("two fields that convert each other go back together", () => {
    const card = newEntry(treeCard, { locale: "en" });
    typed(card, "girth", "2.54");
    typed(card, "inches", "10");
    expect(card.values.girth).toBe(25.4);
    card.undo();
    expect([card.fields.girth.text, card.values.inches]).toEqual(["2.54", 1]);
    card.undo();
    expect([card.values.girth, card.values.inches]).toEqual([undefined, undefined]);
  });
});

describe("undo", () => {
  test("an unreadable text comes back as it was typed, with its problem", () => {
    const clock = withClock();
    const card = newEntry(treeCard, { locale: "de" });
    typed(card, "girth", "abc");
    clock.pass(5_000);
    typed(card, "girth", "31,5");
    card.undo();
    expect(card.fields.girth.text).toBe("abc");
    expect(card.fields.girth.problems.map(({ code }) => code)).toEqual(["badInput"]);
  });

  test("followers see it as one change with its cause, and what is written meanwhile makes no step", () => {
    const card = newEntry(treeCard, { locale: "en" });
    transaction(() => {
      card.values.tag = "AB-1";
      card.values.fenced = true;
    });
    const seen: string[] = [];
    follow(
      () => `${card.values.tag} ${card.values.fenced}`,
      (value, _, { cause }) => seen.push(`${value} ${cause}`),
    );
    card.undo();
    expect(seen).toEqual([" false undo"]);
  });

  test("revert is one step with a name, and so is starting anew, which gives back what it began with", () => {
    const card = editEntry(
      treeCard,
      { tag: "AB-1", species: "Quercus robur", stems: 2, girth: 10, fenced: false, inches: 4, keeper: "" },
      { locale: "en" },
    );
    typed(card, "tag", "AB-2");
    typed(card, "stems", "3");
    card.revert();
    expect(card.history.undoes).toEqual({ name: "going back to what was saved", titles: ["Tag", "Stems"] });
    card.undo();
    expect([card.values.tag, card.values.stems, card.changed]).toEqual(["AB-2", 3, true]);
    card.startNew();
    expect(card.values.tag).toBe("");
    card.undo();
    expect([card.values.tag, card.values.stems]).toEqual(["AB-2", 3]);
    expect(card.changes()).toEqual({ tag: "AB-2", stems: 3 });
  });

  test("what was changed elsewhere since stays, and is named", () => {
    const card = newEntry(treeCard, { locale: "en" });
    typed(card, "tag", "AB-1");
    // As a store does it, which is nothing that a person could take back.
    const other = newHistory();
    because({ cause: "stored" }, () =>
      (card[internal].core.field("tag") as FieldState).startWith({
        value: "AB-9",
        text: undefined,
        unreadable: undefined,
      }),
    );
    expect(other.undoes).toBeUndefined();
    expect(card.undo()).toMatchObject({ ok: true, skipped: ["Tag"] });
    expect(card.values.tag).toBe("AB-9");
  });

  test("another language in between changes nothing about it", () => {
    const card = newEntry(treeCard, { locale: "en" });
    typed(card, "stems", "1,234");
    card.locale = "de";
    expect(card.undo()).toMatchObject({ ok: true, skipped: [] });
    expect(card.values.stems).toBe(1);
    card.redo();
    expect(card.values.stems).toBe(1234);
  });

  test("a secret is in no step", () => {
    const card = newEntry(treeCard, { locale: "en" });
    typed(card, "keeper", "one", "two");
    expect(card.undo().ok).toBe(false);
    expect(card.values.keeper).toBe("two");
  });

  test("after a save, undo is a change again; where a blank row begins after it, there is nothing to undo", async () => {
    const stays = newEntry(treeCard, { locale: "en", save: () => "kept" });
    typed(stays, "tag", "AB-1");
    await stays.save();
    expect(stays.changed).toBe(false);
    stays.undo();
    expect([stays.values.tag, stays.changed]).toEqual(["", true]);
    const begins = newEntry(treeCard, { locale: "en", save: () => "kept", afterSave: "startNew" });
    typed(begins, "tag", "AB-1");
    await begins.save();
    expect(begins.undo().ok).toBe(false);
  });

  test("no more steps are kept than wanted, and none where none are wanted", () => {
    const card = newEntry(treeCard, { locale: "en", history: newHistory({ maxItems: 2 }) });
    for (const stems of [2, 3, 4, 5]) card.values.stems = stems;
    while (card.undo().ok);
    expect(card.values.stems).toBe(3);
    const none = newEntry(treeCard, { history: newHistory({ maxItems: 0 }) });
    none.values.stems = 4;
    expect(none.undo().ok).toBe(false);
    expect(() => newHistory({ maxItems: -1 })).toThrow(
      /maxItems of newHistory.*Received -1.*whole number that is not negative/s,
    );
  });
});

describe("for people", () => {
  test("entries that share a history are undone in the order of the work; one that is stopped leaves it", () => {
    const history = newHistory();
    const first = newEntry(treeCard, { locale: "en", history });
    const second = newEntry(treeCard, { locale: "en", history });
    first.values.tag = "AB-1";
    second.values.tag = "AB-2";
    first.values.stems = 2;
    history.undo();
    expect(first.values.stems).toBe(1);
    history.undo();
    expect([first.values.tag, second.values.tag]).toEqual(["AB-1", ""]);
    first.stop();
    expect(history.undoes).toBeUndefined();
  });

  test.each([
    ["en", "Undo change of Tag", "Undone: change of Tag.", "Redo change of Tag"],
    [
      "de",
      "Änderung von Tag rückgängig machen",
      "Rückgängig gemacht: Änderung von Tag.",
      "Änderung von Tag wiederherstellen",
    ],
    ["ar", "تراجع عن تغيير Tag", "تم التراجع عن تغيير Tag.", "إعادة تغيير Tag"],
  ])("the commands say in %s what they would do, and why they can't", async (locale, caption, said, again) => {
    const { addLanguage } = await import("../src/model/index.ts");
    addLanguage((await import("../src/messages/de/index.ts")).german);
    addLanguage((await import("../src/messages/ar/index.ts")).arabic);
    const card = newEntry(treeCard, { locale });
    const undo = undoCommand(card);
    const redo = redoCommand(card);
    expect(undo.allowed).toBe(false);
    expect((await undo.run()).ok).toBe(false);
    typed(card, "tag", "x");
    expect(undo.title).toBe(caption);
    expect(await undo.run()).toEqual({ ok: true, said });
    expect(redo.title).toBe(again);
    await redo.run();
    expect(card.values.tag).toBe("x");
  });

  test("what a command did is one step under its title", async () => {
    const card = newEntry(treeCard, { locale: "en" });
    const fell = command({
      title: "Fell",
      run: () => {
        card.values.stems = 0;
        card.values.fenced = false;
        card.values.tag = "gone";
      },
    });
    card.values.fenced = true;
    await fell.run();
    expect(undoCommand(card).title).toBe("Undo Fell");
    card.undo();
    expect({ ...card.values }).toMatchObject({ stems: 1, fenced: true, tag: "" });
  });

  test("a press with nothing to undo says so", () => {
    const card = newEntry(treeCard, { locale: "en" });
    expect(pressUndo(card, "undo").ok).toBe(false);
    expect(notices.latest?.text).toBe("There is nothing to undo.");
    expect(pressUndo(card, "redo").ok).toBe(false);
    expect(notices.latest?.text).toBe("There is nothing to do again.");
  });
});

/** A card as a plain object, with what undo needs kept as whole copies: what the history must agree with. */
interface Plain {
  tag: string;
  stems: string;
  girth: string;
  fenced: boolean;
}

test(`${times(10_000)} random sequences of edits, undo, redo, revert and failing transactions agree with plain copies`, () => {
  const random = seeded(20_261_123);
  const clock = withClock();
  const simple = model({
    tag: text({ title: "Tag" }),
    stems: integer(),
    girth: number(),
    fenced: boolean(),
  });
  const texts = ["", "1", "2", "3.5", "abc", "12"];
  const first: Plain = { tag: "", stems: "", girth: "", fenced: false };
  let steps = 0;
  for (let sequence = 0; sequence < times(10_000); sequence++) {
    const card = newEntry(simple, { locale: "en" });
    let now = { ...first };
    let past: Plain[] = [];
    let future: Plain[] = [];
    const note = (next: Plain): void => {
      if (JSON.stringify(next) === JSON.stringify(now)) return;
      past = [...past, now];
      future = [];
      now = next;
    };
    const edit = (plain: Plain): Plain => {
      const name = random.pick(["tag", "stems", "girth", "fenced"] as const);
      if (name === "fenced") {
        const fenced = random.below(2) === 1;
        card.fields.fenced.choose(fenced);
        return { ...plain, fenced };
      }
      const typedText = random.pick(texts);
      card.fields[name].enter(typedText);
      return { ...plain, [name]: typedText };
    };
    for (let step = 0; step < 12; step++, steps++) {
      // More than a second, so that no two edits are one.
      clock.pass(2_000);
      switch (random.below(8)) {
        case 0:
          card.undo();
          if (past.length > 0) [now, past, future] = [past.at(-1)!, past.slice(0, -1), [now, ...future]];
          break;
        case 1:
          card.redo();
          if (future.length > 0) [now, past, future] = [future[0]!, [...past, now], future.slice(1)];
          break;
        case 2:
          card.revert();
          note({ ...first });
          break;
        case 3: {
          let next = now;
          transaction(() => {
            next = edit(next);
            try {
              transaction(() => {
                edit(next);
                throw new Error("taken back");
              });
            } catch {
              // Only the inner part is.
            }
            next = edit(next);
          });
          note(next);
          break;
        }
        case 4:
          expect(() =>
            transaction(() => {
              edit(now);
              if (random.below(2) === 1) card.undo();
              throw new Error("taken back");
            }),
          ).toThrow("taken back");
          break;
        default:
          note(edit(now));
      }
      const held = {
        tag: card.fields.tag.text,
        stems: card.fields.stems.text,
        girth: card.fields.girth.text,
        fenced: card.values.fenced,
      };
      if (JSON.stringify(held) !== JSON.stringify(now) || (card.history.undoes !== undefined) !== past.length > 0)
        throw new Error(
          `Seed ${random.seed}, sequence ${sequence}, step ${step}: ${JSON.stringify({ held, now, past, undoes: card.history.undoes })}`,
        );
    }
  }
  console.info(`seed ${random.seed}: ${steps} steps`);
  expect(steps).toBe(12 * times(10_000));
});
