import { platform, Value } from "../../engine/index.ts";
import type { GridClipboard } from "./GridClipboard.ts";
import type { CellPlace } from "./GridCursor.ts";
import type { PasteProblems } from "./PasteProblems.ts";

/** Makes the clipboard of a grid, with the class that was loaded. */
type MakeClipboard = (Loaded: typeof GridClipboard) => GridClipboard;

/** The clipboard of a grid, which is loaded after the grid is shown; whoever copies or pastes before that waits a moment. */
export class ClipboardLater {
  readonly #loaded = new Value<GridClipboard | undefined>(undefined);
  readonly #loading: Promise<GridClipboard>;
  #stopped = false;

  constructor(make: MakeClipboard) {
    this.#loading = this.#load(make);
  }

  async #load(make: MakeClipboard): Promise<GridClipboard> {
    const { GridClipboard: Loaded } = await import("./GridClipboard.ts");
    const clipboard = make(Loaded);
    if (this.#stopped) clipboard.stop();
    else this.#loaded.write(clipboard);
    return clipboard;
  }

  /** What is wrong with the cells that were pasted. */
  get problems(): PasteProblems | undefined {
    return this.#loaded.read()?.problems;
  }

  copy(event: ClipboardEvent, place: CellPlace): void {
    const clipboard = this.#loaded.peek();
    if (clipboard !== undefined) return clipboard.copy(event, place);
    event.preventDefault();
    this.#loading.then((loaded) => loaded.copyLate(place)).catch((error: unknown) => platform.report(error));
  }

  /** Ends what is being copied. @returns whether something was */
  stopCopying(): boolean {
    return this.#loaded.peek()?.stopCopying() === true;
  }

  paste(event: ClipboardEvent, place: CellPlace): void {
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (text === "") return;
    event.preventDefault();
    const clipboard = this.#loaded.peek();
    if (clipboard !== undefined) return clipboard.paste(text, place);
    this.#loading.then((loaded) => loaded.paste(text, place)).catch((error: unknown) => platform.report(error));
  }

  stop(): void {
    this.#stopped = true;
    this.#loaded.peek()?.stop();
  }
}
