/** Keys and the slots that have them, against plain lists. */
import { expect, test } from "@jest/globals";
import { KeyedList } from "../src/store/KeyedList.ts";
import { KeyIndex, type LookUp } from "../src/table/KeyIndex.ts";
import { OrderedSlots } from "../src/table/OrderedSlots.ts";
import { SlotSet } from "../src/table/SlotSet.ts";
import { seeded, times } from "./seeded.ts";

/** Keys that are alike: texts and numbers of the same digits, both zeros, texts of many lengths and scripts. */
function keysFor(random: ReturnType<typeof seeded>, count: number): () => LookUp {
  const kinds: ((at: number) => LookUp)[] = [
    (at) => `AB-${at}`,
    (at) => at,
    (at) => String(at),
    (at) => -at / 8,
    (at) => "ü寄".repeat(at % 9) + String.fromCodePoint(at),
    (at) => at * 2 ** 33 + 0.5,
    (at) => at % 2 === 0,
  ];
  return () => kinds[random.below(kinds.length)]!(random.below(count));
}

test("property: which slot has a key is known as in a plain list, with keys that several have for a while", () => {
  const random = seeded(1661);
  const rounds = times(60);
  let doubles = 0;
  for (let round = 0; round < rounds; round++) {
    const rows: (LookUp | undefined)[] = [];
    /** By key the slots that have it, in the order in which they got it. */
    const plain = new Map<LookUp, readonly number[]>();
    const slotsOf = (key: LookUp): readonly number[] => plain.get(key) ?? [];
    const index = new KeyIndex((slot) => rows[slot], random.below(2) * random.below(300));
    const keyOf = keysFor(random, 3 + random.below(1 + round * 4));
    for (let step = 0; step < 1_500; step++) {
      const slot = random.below(400);
      const key = rows[slot];
      const fills = step % 500 < 300 ? 3 : 1;
      if (key === undefined) {
        const added = keyOf();
        const isNew = slotsOf(added).length === 0;
        if (!isNew) expect(index.addNew(added, slot)).toBe(false);
        rows[slot] = added;
        if (isNew && random.below(2) === 0) expect(index.addNew(added, slot)).toBe(true);
        else index.add(added, slot);
        plain.set(added, [...slotsOf(added), slot]);
      } else if (random.below(4) >= fills) {
        index.remove(key, slot);
        rows[slot] = undefined;
        const others = slotsOf(key).filter((each) => each !== slot);
        plain.set(key, others);
      }
      const asked = random.below(3) === 0 ? keyOf() : (rows[random.below(400)] ?? keyOf());
      const slots = slotsOf(asked);
      if (slots.length > 1) doubles++;
      if (index.get(asked) !== slots[0] || index.isDouble(asked) !== slots.length > 1)
        throw new Error(`round ${round}, step ${step}: ${asked} is at ${index.get(asked)}, not ${slots.join()}`);
    }
    for (const [key, slots] of plain) expect(index.get(key)).toBe(slots[0]);
  }
  console.info(`${rounds} indexes, ${doubles} looks at a key that several had, seed ${random.seed}`);
  expect(doubles).toBeGreaterThan(10 * rounds);
});

test("property: a list by keys has what a Map has, in the same order", () => {
  const random = seeded(1662);
  const rounds = times(60);
  for (let round = 0; round < rounds; round++) {
    const list = new KeyedList<{ readonly key: LookUp; readonly step: number }>();
    const map = new Map<LookUp, { readonly key: LookUp; readonly step: number }>();
    const keyOf = keysFor(random, 3 + random.below(1 + round * 4));
    for (let step = 0; step < 1_000; step++) {
      const item = { key: keyOf(), step };
      if (random.below(4) < (step % 500 < 250 ? 3 : 1)) {
        list.set(item.key, item);
        map.set(item.key, item);
      } else {
        list.delete(item.key);
        map.delete(item.key);
      }
      const asked = keyOf();
      expect(list.get(asked)).toBe(map.get(asked));
      expect(list.size).toBe(map.size);
    }
    const items: unknown[] = [];
    list.forEach((item) => items.push(item));
    expect(items).toEqual([...map.values()]);
  }
  console.info(`${rounds} lists, seed ${random.seed}`);
});

test("property: a set of slots has what a plain set has, as large as it is, in the order of the slots", () => {
  const random = seeded(1662);
  const rounds = times(200);
  for (let round = 0; round < rounds; round++) {
    const limit = 1 + random.below(round % 3 === 0 ? 5_000 : 40);
    let set = SlotSet.of(Array.from({ length: random.below(30) }, () => random.below(limit)));
    let plain = new Set(set);
    for (let step = 0; step < 60; step++) {
      const slot = random.below(limit);
      const what = random.below(20);
      if (what === 0) {
        set.fill(slot);
        plain = new Set(Array.from({ length: slot }, (_, each) => each));
      } else if (what === 1) {
        const before = set;
        set = set.copy();
        if (before.has(slot)) before.delete(slot);
        else before.add(slot);
      } else if (what === 2) {
        const others = Array.from({ length: random.below(2 * limit) }, () => random.below(limit));
        set = set.within(SlotSet.of(others));
        plain = new Set(others.filter((each) => plain.has(each)));
      } else if (what === 3) {
        set = new SlotSet(set.bits.slice());
      } else if (plain.has(slot)) {
        set.delete(slot);
        plain.delete(slot);
      } else {
        set.add(slot);
        plain.add(slot);
      }
      expect([[...set], set.size, set.has(slot), set.has(limit + 8_000)]).toEqual([
        [...plain].sort((a, b) => a - b),
        plain.size,
        plain.has(slot),
        false,
      ]);
    }
  }
  console.info(`${rounds} sets of slots, seed ${random.seed}`);
});

test("property: slots in order are those of a plain sorted list, through blocks that fill, part and empty", () => {
  const random = seeded(1663);
  const rounds = times(12);
  let empties = 0;
  for (let round = 0; round < rounds; round++) {
    const keys = Array.from({ length: 9_000 }, () => random.below(5_000));
    const compare = (a: number, b: number): number => keys[a]! - keys[b]! || a - b;
    let plain = Array.from({ length: random.below(6_000) }, (_, slot) => slot).sort(compare);
    const slots = new OrderedSlots();
    slots.fill(Uint32Array.from(plain), plain.length);
    for (let step = 0; step < 14; step++) {
      // A run of neighbours goes, so that whole blocks get empty; and many come between two others, so that blocks part.
      const from = random.below(plain.length + 1);
      const gone = plain.slice(from, from + random.below(2_600));
      for (const slot of gone) expect(slots.remove(slot, compare)).toBe(true);
      if (gone.length > 1_024) empties++;
      const isGone = new Set(gone);
      plain = plain.filter((slot) => !isGone.has(slot));
      const isThere = new Set(plain);
      const low = random.below(5_000);
      const come = keys.flatMap((key, slot) => (key >= low && key < low + 900 && !isThere.has(slot) ? [slot] : []));
      for (const slot of come) slots.add(slot, compare);
      plain = [...plain, ...come].sort(compare);
      const missing = keys.findIndex((_, slot) => !plain.includes(slot));
      const place = random.below(plain.length + 2) - 1;
      expect([slots.size, slots.at(place), slots.at(plain.length), [...slots].length]).toEqual([
        plain.length,
        plain[place],
        undefined,
        plain.length,
      ]);
      const [begin, end] = [random.below(plain.length + 1), random.below(plain.length + 3)];
      expect(slots.between(begin, end)).toEqual(plain.slice(begin, Math.max(begin, end)));
      const each: number[] = [];
      slots.forEach((slot) => each.push(slot));
      expect(each).toEqual(plain);
      if (plain[place] !== undefined) expect(slots.placeOf(plain[place], compare)).toBe(place);
      if (missing < 0) continue;
      expect([slots.remove(missing, compare), slots.placeOf(missing, compare)]).toEqual([false, -1]);
      expect(slots.placeFor(missing, compare)).toBe(plain.filter((slot) => compare(slot, missing) < 0).length);
    }
  }
  expect(empties).toBeGreaterThan(0);
  console.info(`${rounds} orders, ${empties} blocks or more that got empty, seed ${random.seed}`);
});

test("a slot that comes when its block is full is in order, wherever in it", () => {
  const compare = (a: number, b: number): number => a - b;
  for (let place = 480; place < 545; place++) {
    const slots = new OrderedSlots();
    const even = Uint32Array.from({ length: 1_024 }, (_, at) => 2 * at);
    slots.fill(even, 900);
    for (const slot of even.subarray(900)) slots.add(slot, compare);
    slots.add(2 * place + 1, compare);
    expect([...slots]).toEqual([...even, 2 * place + 1].sort(compare));
  }
});
