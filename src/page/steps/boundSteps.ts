import { type StepCommands, pressStep, sayStep, stepCommands } from "../../control/index.ts";
import { follow, mirror, type Stoppable, dispose } from "../../engine/index.ts";
import type { Steps } from "../../entry/index.ts";
import type { Problem } from "../../model/index.ts";
import { Undoing } from "../binding.ts";
import { showStepList } from "./stepList.ts";
import { showSummary } from "./summaryList.ts";

/** What the steps of a form ask of it. */
export interface SteppedForm {
  /** Puts the focus on the first control that shows one of these problems. */
  focusFirst(problems: readonly Problem[]): void;
  /** Puts the focus on the first control inside an element. @returns whether there is one */
  focusIn(element: Element): boolean;
}

/** What the state of a page in the browser's history says of the steps. */
type State = Readonly<Record<string, unknown>> | null;

/**
 * The steps of a form on the page: only the container of the current one is there, lists and outputs show where the
 * person is, and the browser's own back and forward lead through them.
 */
export class BoundSteps implements Stoppable {
  readonly commands: StepCommands;
  readonly #undoing = new Undoing();
  readonly #window: Window | null;
  /** Whether the step is changed by the browser's own history, which needs no new entry then. */
  #travelling = false;
  readonly #name: string;
  readonly #steps: Steps;
  readonly #form: SteppedForm | undefined;

  constructor(root: Document | Element, name: string, steps: Steps, form: SteppedForm | undefined) {
    this.#name = name;
    this.#steps = steps;
    this.#form = form;
    this.commands = stepCommands(steps, (problems) => form?.focusFirst(problems));
    this.#window = (root.ownerDocument ?? root).defaultView;
    for (const step of steps.names)
      for (const element of namedElements(root, `${name}.${step}`)) this.#showStep(element, step);
    for (const element of namedElements(root, name)) this.#show(element);
    this.#undoing.keep(
      follow(
        () => steps.current,
        (step) => this.#stepTo(root, step),
      ),
    );
    this.#followHistory();
  }

  /** What Enter and the form's own button do: on to the next step, and in the last one finish. */
  submit(): void {
    const { next, finish } = this.commands;
    const { number, of } = this.#steps.position;
    void (number === of ? finish : next).run();
  }

  /** Goes to the step in which one of some fields is, where none of them is in this one. */
  bringUp(fields: readonly string[]): void {
    const steps = this.#steps;
    const has = (step: string): boolean => steps.fieldsOf(step).some((name) => fields.includes(name));
    const wanted = steps.names.find(has);
    if (wanted !== undefined && !has(steps.current)) void steps.goTo(wanted);
  }

  #showStep(element: HTMLElement, step: string): void {
    const { hidden } = element;
    this.#undoing.add(() => {
      element.hidden = hidden;
    });
    this.#undoing.keep(
      mirror(() => {
        element.hidden = this.#steps.current !== step;
      }, `step ${step}`),
    );
  }

  /** What an element under the name of the steps shows, by what it is. */
  #show(element: HTMLElement): void {
    const steps = this.#steps;
    if (element.localName === "dl") return this.#undoing.keep(showSummary(element, steps, this.#stepRound(element)));
    if (element.localName === "ol" || element.localName === "ul")
      return this.#undoing.keep(
        showStepList(
          element,
          steps,
          (step) => void pressStep(steps, step, (problems) => this.#form?.focusFirst(problems)),
        ),
      );
    this.#undoing.keep(
      mirror(() => {
        const { number, of } = steps.position;
        if ("value" in element && "max" in element) Object.assign(element, { max: of, value: number });
        else element.textContent = sayStep(steps);
      }, "the position in the steps"),
    );
  }

  /** The step in which an element stands. */
  #stepRound(element: Element): string | undefined {
    const step = element.closest(`[data-name^="${CSS.escape(this.#name)}."]`);
    return step?.getAttribute("data-name")?.slice(this.#name.length + 1);
  }

  #stepTo(root: Document | Element, step: string): void {
    if (!this.#travelling) this.#push(step);
    const [container] = namedElements(root, `${this.#name}.${step}`);
    // What was entered is to be read first, where it is shown.
    const summary = container?.querySelector(`dl[data-name="${CSS.escape(this.#name)}"]`) ?? null;
    if (container === undefined || (summary === null && this.#form?.focusIn(container) === true)) return;
    const heading = container.querySelector<HTMLElement>("h1, h2, h3, legend") ?? container;
    heading.tabIndex = -1;
    heading.focus();
  }

  #push(step: string): void {
    const { history } = this.#window ?? {};
    history?.pushState({ ...(history.state as State), [this.#name]: step }, "");
  }

  #followHistory(): void {
    const { history } = this.#window ?? {};
    history?.replaceState({ ...(history.state as State), [this.#name]: this.#steps.current }, "");
    const travel = (event: PopStateEvent): void => {
      const step = (event.state as State)?.[this.#name];
      if (typeof step === "string" && this.#steps.names.includes(step)) void this.#travel(step);
    };
    this.#window?.addEventListener("popstate", travel);
    this.#undoing.add(() => {
      this.#window?.removeEventListener("popstate", travel);
      const others = Object.entries((history?.state as State) ?? {}).filter(([name]) => name !== this.#name);
      history?.replaceState(others.length === 0 ? null : Object.fromEntries(others), "");
    });
  }

  async #travel(step: string): Promise<void> {
    this.#travelling = true;
    try {
      await pressStep(this.#steps, step, (problems) => this.#form?.focusFirst(problems));
    } finally {
      this.#travelling = false;
    }
    // Forward to a step that can't be reached leads to the one that has to be finished first.
    if (this.#steps.current !== step) this.#push(this.#steps.current);
  }

  stop(): void {
    this.#undoing.stop();
    const { next, back, finish } = this.commands;
    for (const command of [next, back, finish]) command.stop();
  }

  [dispose](): void {
    this.stop();
  }
}

const namedElements = (root: ParentNode, name: string): HTMLElement[] => [
  ...root.querySelectorAll<HTMLElement>(`[data-name="${CSS.escape(name)}"]`),
];
