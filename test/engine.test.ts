import { describe, expect, jest, test } from "@jest/globals";
import fc from "fast-check";
import {
  because,
  Calculation,
  follow,
  mirror,
  platform,
  sameValue,
  transaction,
  untracked,
  Value,
  watchPasses,
} from "../src/engine/index.ts";

const chain = (length: number, start: Value<number>): Calculation<number> => {
  let last: { read(): number } = start;
  for (let i = 0; i < length; i++) {
    const source = last;
    last = new Calculation(() => source.read() + 1);
  }
  return last as Calculation<number>;
};

describe("values and followers", () => {
  test("a follower is not called at the start, and once per change with both values", () => {
    const girth = new Value(10);
    const calls: number[][] = [];
    follow(
      () => girth.read(),
      (value, before) => calls.push([before, value]),
    );
    girth.write(11);
    girth.write(11);
    girth.write(12);
    expect(calls).toEqual([
      [10, 11],
      [11, 12],
    ]);
  });

  test("writing the same value is nothing: -0 is 0, lists in depth where the value says so", () => {
    const react = jest.fn();
    const zero = new Value(0);
    const list = new Value<readonly string[]>(["cavity"], sameValue);
    follow(() => [zero.read(), list.read()], react);
    zero.write(-0);
    list.write(["cavity"]);
    expect(react).not.toHaveBeenCalled();
    list.write(["cavity", "leaning"]);
    expect(react).toHaveBeenCalledTimes(1);
  });

  test("a follower that throws is reported and does not stop the others", () => {
    const reported: unknown[] = [];
    const report = platform.report;
    platform.report = (error) => reported.push(error);
    const value = new Value(0);
    const later = jest.fn();
    follow(
      () => value.read(),
      () => {
        throw new Error("a builder's mistake");
      },
    );
    follow(() => value.read(), later);
    value.write(1);
    value.write(2);
    platform.report = report;
    expect(reported.map((error) => (error as Error).message)).toEqual(["a builder's mistake", "a builder's mistake"]);
    expect(later).toHaveBeenCalledTimes(2);
  });

  test("a follower that writes starts a new pass; one that never settles is named", () => {
    const a = new Value(0);
    const b = new Value(0);
    const seen: number[] = [];
    follow(
      () => a.read(),
      (value) => b.write(value * 2),
    );
    follow(
      () => a.read() + b.read(),
      (sum) => seen.push(sum),
    );
    a.write(1);
    expect(b.peek()).toBe(2);
    expect(seen.at(-1)).toBe(3);
    follow(
      () => b.read(),
      function theRestlessOne(value) {
        b.write(value + 1);
      },
    );
    expect(() => a.write(2)).toThrow(/100 passes.*The names are:.*theRestlessOne/);
    expect(() => new Value(0).write(1)).not.toThrow();
  });

  test("stop, dispose and a signal end it, and leave no listener on the signal", () => {
    const value = new Value(0);
    const react = jest.fn();
    const abort = new AbortController();
    const removed = jest.spyOn(abort.signal, "removeEventListener");
    const stopped = follow(() => value.read(), react, { signal: abort.signal });
    const aborted = follow(() => value.read(), react, { signal: abort.signal });
    stopped.stop();
    stopped.stop();
    expect(removed).toHaveBeenCalledTimes(1);
    value.write(1);
    expect(react).toHaveBeenCalledTimes(1);
    abort.abort();
    value.write(2);
    expect(react).toHaveBeenCalledTimes(1);
    aborted.stop();
    follow(() => value.read(), react, { signal: AbortSignal.abort() });
    value.write(3);
    expect(react).toHaveBeenCalledTimes(1);
    expect(value.firstTarget).toBeUndefined();
  });

  test("a follower may stop itself and others while it runs", () => {
    const value = new Value(0);
    const react = jest.fn();
    const first = follow(
      () => value.read(),
      () => {
        first.stop();
        second.stop();
      },
    );
    const second = follow(() => value.read(), react);
    value.write(1);
    value.write(2);
    expect(react).not.toHaveBeenCalled();
    expect(value.firstTarget).toBeUndefined();
  });

  test("a stopped follower keeps nothing alive and is kept by nothing", async () => {
    const collect = (globalThis as { gc?: () => void }).gc;
    if (collect === undefined) throw new Error("This test needs --expose-gc; npm test gives it.");
    const value = new Value(0);
    const make = (): [WeakRef<object>, WeakRef<object>] => {
      const row = { tag: "AB-0042" };
      const calculation = new Calculation(() => value.read() + row.tag.length);
      follow(
        () => calculation.read(),
        () => row.tag,
      ).stop();
      return [new WeakRef(row), new WeakRef(calculation)];
    };
    const gone = make();
    await new Promise((resolve) => setTimeout(resolve, 10));
    collect();
    expect(gone.map((each) => each.deref())).toEqual([undefined, undefined]);
    value.write(1);
  });
});

describe("calculations", () => {
  test("run once per change, only when read, and not when what they read is the same", () => {
    const girth = new Value(3.4);
    const rounded = new Calculation(() => Math.round(girth.read()));
    const work = jest.fn(() => rounded.read() * 2);
    const doubled = new Calculation(work);
    expect(work).not.toHaveBeenCalled();
    follow(() => doubled.read(), jest.fn());
    expect(work).toHaveBeenCalledTimes(1);
    girth.write(3.3);
    expect(work).toHaveBeenCalledTimes(1);
    girth.write(4);
    expect(work).toHaveBeenCalledTimes(2);
    expect(doubled.read()).toBe(8);
    expect(work).toHaveBeenCalledTimes(2);
  });

  test("forget what they no longer read", () => {
    const fenced = new Value(true);
    const cost = new Value(1);
    const work = jest.fn(() => (fenced.read() ? cost.read() : 0));
    const due = new Calculation(work);
    follow(() => due.read(), jest.fn());
    fenced.write(false);
    expect(cost.firstTarget).toBeUndefined();
    cost.write(2);
    expect(work).toHaveBeenCalledTimes(2);
  });

  test("a diamond is consistent and evaluated once", () => {
    const a = new Value(1);
    const left = new Calculation(() => a.read() + 1);
    const right = new Calculation(() => a.read() * 10);
    const work = jest.fn(() => `${left.read()} ${right.read()}`);
    const both = new Calculation(work);
    const seen: string[] = [];
    follow(
      () => both.read(),
      (text) => seen.push(text),
    );
    a.write(2);
    expect(seen).toEqual(["3 20"]);
    expect(work).toHaveBeenCalledTimes(2);
  });

  test.each([1_000, 100_000])("a chain of %i neither overflows the stack nor runs in vain", (length) => {
    const start = new Value(0);
    const end = chain(length, start);
    expect(end.read()).toBe(length);
    const react = jest.fn();
    const following = follow(() => end.read(), react);
    start.write(1);
    expect(react).toHaveBeenCalledTimes(1);
    expect(end.read()).toBe(length + 1);
    following.stop();
    expect(start.firstTarget).toBeUndefined();
    start.write(2);
    expect(end.read()).toBe(length + 2);
  });

  test("a deep chain first read by a follower is evaluated, even past a builder's own catch", () => {
    const start = new Value(0);
    let last: { read(): number } = start;
    for (let i = 0; i < 5_000; i++) {
      const source = last;
      last = new Calculation(() => {
        try {
          return source.read() + 1;
        } catch {
          return -1_000_000;
        }
      });
    }
    expect(last.read()).toBe(5_000);
  });

  test("a ring is an error that names its members in order; it heals when the ring is broken", () => {
    const inRing = new Value(true);
    const a: Calculation<number> = new Calculation(() => (inRing.read() ? c.read() : 1), "diameter");
    const b: Calculation<number> = new Calculation(() => a.read() + 1, "ageInYears");
    const c: Calculation<number> = new Calculation(() => b.read() + 1, "girth");
    expect(() => a.read()).toThrow(/diameter → girth → ageInYears → diameter/);
    inRing.write(false);
    expect(c.read()).toBe(3);
    follow(() => c.read(), jest.fn());
    const report = platform.report;
    const reported: unknown[] = [];
    platform.report = (error) => reported.push(error);
    inRing.write(true);
    platform.report = report;
    expect(String(reported[0])).toMatch(/ring: .*diameter/);
    inRing.write(false);
    expect(c.read()).toBe(3);
  });

  test("a ring longer than recursion allows is found too", () => {
    const members: Calculation<number>[] = [];
    for (let i = 0; i < 3_000; i++) members.push(new Calculation(() => members[(i + 1) % 3_000]!.read(), `c${i}`));
    expect(() => members[0]!.read()).toThrow(/ring: c0 → c1 → .* → c2999 → c0/);
  });

  test("what a calculation throws is thrown at each read until something it read changes", () => {
    const value = new Value(0);
    const fragile = new Calculation(() => {
      if (value.read() === 0) throw new Error("blank");
      return value.read();
    });
    expect(() => fragile.read()).toThrow("blank");
    expect(() => fragile.read()).toThrow("blank");
    value.write(5);
    expect(fragile.read()).toBe(5);
  });

  test("writing inside one is refused, and untracked reads are not followed", () => {
    const a = new Value(0);
    const b = new Value(0);
    expect(() => new Calculation(() => b.write(1)).read()).toThrow(/while something was being calculated/);
    const sum = new Calculation(() => a.read() + untracked(() => b.read()));
    follow(() => sum.read(), jest.fn());
    b.write(5);
    expect(sum.read()).toBe(0);
    a.write(1);
    expect(sum.read()).toBe(6);
  });
});

describe("transactions", () => {
  test("followers see only the end; reads inside see the writes so far", () => {
    const a = new Value(0);
    const double = new Calculation(() => a.read() * 2);
    const seen: number[] = [];
    follow(
      () => double.read(),
      (value) => seen.push(value),
    );
    const result = transaction(() => {
      a.write(1);
      a.write(2);
      return double.read();
    });
    expect(result).toEqual({ ok: true, value: 4 });
    expect(seen).toEqual([4]);
  });

  test("an exception restores everything, an inner one its own part", () => {
    const a = new Value(0);
    const b = new Value(0);
    const react = jest.fn();
    follow(() => [a.read(), b.read()], react);
    expect(() =>
      transaction(() => {
        a.write(1);
        throw new Error("no");
      }),
    ).toThrow("no");
    expect(a.peek()).toBe(0);
    expect(react).not.toHaveBeenCalled();
    transaction(() => {
      a.write(1);
      expect(() =>
        transaction(() => {
          b.write(1);
          a.write(2);
          throw new Error("inner");
        }),
      ).toThrow("inner");
    });
    expect([a.peek(), b.peek()]).toEqual([1, 0]);
  });

  test("an async function is refused and what it wrote is taken back", () => {
    const a = new Value(0);
    // @ts-expect-error: the type of the argument says so
    expect(() => transaction(async () => a.write(1))).toThrow(/returned a promise/);
    expect(a.peek()).toBe(0);
  });
});

test("property: random graphs of values, calculations and transactions agree with evaluation from scratch", () => {
  const seed = 20_261_123;
  const runs = 500;
  const node = fc.record({ left: fc.nat(30), right: fc.nat(30), pick: fc.boolean() });
  const write = fc.record({ place: fc.nat(4), value: fc.integer({ min: -3, max: 3 }) });
  fc.assert(
    fc.property(
      fc.array(node, { minLength: 1, maxLength: 25 }),
      fc.array(fc.record({ writes: fc.array(write, { maxLength: 4 }), fails: fc.boolean() }), { maxLength: 12 }),
      (nodes, rounds) => {
        const values = [1, 2, 3, 4, 5].map((start) => new Value(start));
        const plain = values.map((value) => value.peek());
        const all: { read(): number }[] = [...values];
        for (const { left, right, pick } of nodes) {
          const [l, r] = [all[left % all.length]!, all[right % all.length]!];
          all.push(
            new Calculation(() => (pick ? (l.read() > 0 ? l.read() : r.read()) : (l.read() + r.read()) % 1_000)),
          );
        }
        const scratch = (): number[] => {
          const results = [...plain];
          for (const { left, right, pick } of nodes) {
            const [l, r] = [results[left % results.length]!, results[right % results.length]!];
            results.push(pick ? (l > 0 ? l : r) : (l + r) % 1_000);
          }
          return results;
        };
        let mirrored: number[] = [];
        const last = all.at(-1)!;
        const watching = mirror(() => {
          mirrored = [last.read(), all[all.length >> 1]!.read()];
        });
        for (const { writes, fails } of rounds) {
          const before = [...plain];
          try {
            transaction(() => {
              for (const { place, value } of writes) {
                values[place]!.write(value);
                plain[place] = value;
              }
              if (fails) throw new Error("taken back");
            });
          } catch {
            before.forEach((value, place) => (plain[place] = value));
          }
          const right = scratch();
          expect(mirrored).toEqual([right.at(-1), right[right.length >> 1]]);
          expect(all.map((each) => each.read())).toEqual(right);
        }
        watching.stop();
        expect(values.every((value) => value.firstTarget === undefined)).toBe(true);
      },
    ),
    { seed, numRuns: runs },
  );
  console.info(`${runs} random graphs, seed ${seed}`);
});

describe("what an inspector sees of the passes", () => {
  test("each followed write and each follower that runs, with the cause, also in a transaction, until it is ended", () => {
    const seen: string[] = [];
    const [girth, height, alone] = [new Value(1), new Value(2), new Value(3)];
    const names = new Map<unknown, string>([
      [girth, "girth"],
      [height, "height"],
      [alone, "alone"],
    ]);
    const both = follow(
      () => girth.read() + height.read(),
      function both() {},
    );
    const end = watchPasses({
      wrote: (source, { cause }) => seen.push(`${names.get(source)} ${cause}`),
      runs: (follower, { cause }) => seen.push(`→ ${follower.name} ${cause}`),
    });
    girth.write(5);
    alone.write(6);
    because({ cause: "typed" }, () =>
      transaction(() => {
        girth.write(7);
        height.write(8);
      }),
    );
    end();
    girth.write(9);
    both.stop();
    expect(seen).toEqual(["girth code", "→ both code", "girth typed", "height typed", "→ both typed"]);
  });

  test("what a follower writes is seen with the cause that the pass has", () => {
    const seen: string[] = [];
    const [from, to] = [new Value(0), new Value(0)];
    const copies = [
      follow(
        () => from.read(),
        function copy(value) {
          to.write(value);
        },
      ),
      follow(
        () => to.read(),
        function end() {},
      ),
    ];
    const end = watchPasses({
      wrote: (source, { cause }) => seen.push(`${source === from ? "from" : "to"} ${cause}`),
      runs: (follower, { cause }) => seen.push(`→ ${follower.name} ${cause}`),
    });
    because({ cause: "command" }, () => from.write(1));
    end();
    for (const each of copies) each.stop();
    expect(seen).toEqual(["from command", "→ copy command", "to command", "→ end command"]);
  });
});

test("what is no number and stays none is no change; what becomes one is", () => {
  const girth = new Value<number | undefined>(undefined);
  const half = new Calculation(() => (girth.read() ?? NaN) / 2);
  let runs = 0;
  const told: unknown[] = [];
  const followed = follow(
    () => (runs++, half.read()),
    (now) => told.push(now),
  );
  const other = new Calculation(() => (girth.read() === 7 ? 0 : NaN));
  const toldOther: unknown[] = [];
  const followedOther = follow(
    () => other.read(),
    (now) => toldOther.push(now),
  );
  girth.write(NaN);
  girth.write(Infinity - Infinity);
  expect([runs, told]).toEqual([1, []]);
  girth.write(7);
  girth.write(8);
  girth.write(undefined);
  expect([told, toldOther]).toEqual([
    [3.5, 4, NaN],
    [0, NaN],
  ]);
  followed.stop();
  followedOther.stop();
});
