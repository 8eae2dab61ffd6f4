import { describe, expect, test } from "@jest/globals";
import { command, isPressed, isTyping, readShortcuts } from "../src/command/index.ts";
import { newsIn, nextNotice, undoKey } from "../src/control/index.ts";

const pressed = (key: string, held: Partial<Record<"altKey" | "ctrlKey" | "metaKey" | "shiftKey", boolean>> = {}) => ({
  key,
  altKey: false,
  ctrlKey: false,
  metaKey: false,
  shiftKey: false,
  ...held,
});
const saying = (text: string, atOnce = false) => ({ text, atOnce });

describe("what the status line shows", () => {
  const [first, second, third, fourth] = ["Saved.", "Counted.", "Printed.", "Moved."].map((text) => saying(text)) as [
    ReturnType<typeof saying>,
    ReturnType<typeof saying>,
    ReturnType<typeof saying>,
    ReturnType<typeof saying>,
  ];

  test("the first at once, and each of the others when the one before could be read", () => {
    expect(nextNotice([first], first, undefined, 0)).toEqual({ notice: first, after: undefined });
    expect(nextNotice([first, second], second, first, 400)).toEqual({ notice: first, after: 1_100 });
    expect(nextNotice([first, second, third], third, first, 1_500)).toEqual({ notice: second, after: 1_500 });
    expect(nextNotice([first, second, third], third, third, 90)).toEqual({ notice: third, after: undefined });
  });

  test("a long text is left for longer, an error comes at once, and what was cleared waits for nobody", () => {
    const long = saying("x".repeat(100));
    expect(nextNotice([long, second], second, long, 4_000).after).toBe(1_000);
    const wrong = saying("The disk is full.", true);
    expect(nextNotice([first, second, wrong], wrong, first, 0).notice).toBe(wrong);
    expect(nextNotice([first, second], second, undefined, 0).notice).toBe(second);
    expect(nextNotice([second, third], third, first, 0).notice).toBe(third);
  });

  test("of a burst only the last three wait for their turn", () => {
    const burst = [first, ...Array.from({ length: 9 }, (_, place) => saying(`${place}`)), second, third, fourth];
    expect(nextNotice(burst, fourth, first, 2_000).notice).toBe(second);
  });
});

test.each([
  [pressed("z", { ctrlKey: true }), "undo"],
  [pressed("Z", { ctrlKey: true, shiftKey: true }), "redo"],
  [pressed("z", { metaKey: true }), "undo"],
  [pressed("y", { ctrlKey: true }), "redo"],
  [pressed("y", { metaKey: true }), undefined],
  [pressed("z"), undefined],
  [pressed("z", { ctrlKey: true, altKey: true }), undefined],
  [pressed("z", { ctrlKey: true, metaKey: true }), undefined],
])("%o is %s", (key, which) => {
  expect(undoKey(key)).toBe(which);
});

describe("key shortcuts", () => {
  test.each([
    ["Control+Enter", pressed("Enter", { ctrlKey: true }), true],
    ["Control+Enter", pressed("Enter"), false],
    ["Control+Enter", pressed("Enter", { ctrlKey: true, shiftKey: true }), false],
    ["Alt+Shift+N", pressed("N", { altKey: true, shiftKey: true }), true],
    ["Alt+n F2", pressed("F2"), true],
    ["Space", pressed(" "), true],
    ["?", pressed("?", { shiftKey: true }), true],
  ])("%s is pressed by %o: %s", (text, key, is) => {
    expect(isPressed(readShortcuts(text), key)).toBe(is);
  });

  test.each(["", "Ctrl+S", "Control+", "Control", "Shift+Alt"])("%j is none, and says what one is", (text) => {
    expect(() => command({ keyShortcuts: text, run: () => undefined })).toThrow(
      /keyShortcuts.*modifiers \(Alt, Control, Meta, Shift\) and one key, as "Control\+Enter"/s,
    );
  });

  test("letters and what edits text are no shortcuts where text is typed; with Control, and other keys, they are", () => {
    expect(["a", "?", "Delete", "Enter", "ArrowDown"].every((key) => isTyping(pressed(key)))).toBe(true);
    expect(["Escape", "F2", "Tab"].some((key) => isTyping(pressed(key)))).toBe(false);
    expect(isTyping(pressed("a", { ctrlKey: true }))).toBe(false);
  });
});

test("news are the problems that a person has not been shown yet", () => {
  const problem = (code: string, pointer: string) => ({ code, pointer, message: code, severity: "warning" as const });
  expect(newsIn([problem("a", "/x"), problem("b", "/x")], [problem("a", "/x"), problem("b", "/y")])).toEqual([
    problem("b", "/x"),
  ]);
});
