import {
  IronwoodError,
  requireArgument,
  requireFields,
  requireFormerNames,
  requireFunctions,
  requireNames,
  requireOptions,
  unknownName,
} from "../errors/index.ts";
import { type Formerly, formerlyOf } from "./formerly.ts";
import type { GroupKind } from "./kinds/group.ts";
import { type AnyKind } from "./kinds/kind.ts";
import { titleFrom } from "./names.ts";
import { flattened } from "./nesting.ts";
import { problemCodes } from "./problem.ts";
import { newRule, type Rule, type RuleOptions } from "./rule.ts";
import type { CompleteRow, Fields, GivenRow, InProgress, KindAt, PathsOf, ReadRow, Shown, ValueOf } from "./types.ts";

/** Options of {@link model}. */
export interface ModelOptions<Name> {
  /** What people call one row, as "Tree card". */
  readonly title?: string | undefined;
  /** The field or fields by which a row is known. */
  readonly key?: Name | readonly Name[] | undefined;
}

type Work = (row: never) => unknown;
type Condition = (row: never) => boolean | string;

/** Everything a model says, in a form that can be copied. */
interface Parts {
  readonly fields: Fields;
  readonly title: string | undefined;
  readonly key: readonly string[];
  readonly calculations: ReadonlyMap<string, Work>;
  readonly proposals: ReadonlyMap<string, Work>;
  readonly choices: ReadonlyMap<string, Work>;
  readonly relevance: ReadonlyMap<string, Condition>;
  readonly requirement: ReadonlyMap<string, Condition>;
  readonly protection: ReadonlyMap<string, Condition>;
  readonly rules: readonly Rule[];
  /** What older models said, the oldest first. */
  readonly formerly: readonly Formerly[];
}

/** A name that is there already, said where the compiler shows it. */
type NotTwice<Names, Taken> =
  Extract<Names, Taken> extends never ? unknown : `The name "${Extract<Names, Taken> & string}" is calculated already.`;

/**
 * The declaration of one kind of row. It never changes: each call that adds something gives a new model, whose types
 * know what was added. Make one with {@link model}.
 */
export class Model<F extends Fields = Fields, C = unknown, R = never, K = never> {
  /** The full names of all fields, in order: the declared ones, then those that are only calculated. */
  readonly names: readonly string[];
  /** The declared fields by their full names; those of groups as `place.plot`. */
  readonly kinds: ReadonlyMap<string, AnyKind>;
  /** The groups of fields, by full name. */
  readonly groups: ReadonlyMap<string, GroupKind>;
  #defaults: Readonly<Record<string, unknown>> | undefined;
  /** For the compiler only. */
  declare readonly types?: { readonly fields: F; readonly calculated: C; readonly conditional: R; readonly key: K };

  /** Used by {@link model} and by the calls below. */
  constructor(
    /** What was declared, as the library reads it; builders have no need of it. */
    readonly parts: Parts,
  ) {
    ({ kinds: this.kinds, groups: this.groups } = flattened(parts.fields));
    this.names = [...new Set([...this.kinds.keys(), ...parts.calculations.keys()])];
  }

  /** What people call one row. */
  get title(): string | undefined {
    return this.parts.title;
  }

  /** The kind of a declared field; `undefined` for one that is only calculated. */
  kindOf(name: string): AnyKind | undefined {
    return this.kinds.get(name);
  }

  /** What people call a field. */
  /**
   * What people call a field or a group.
   *
   * @param locale - the language of the reader; English for a builder
   */
  titleOf(name: string, locale = "en"): string {
    const kind = this.kinds.get(name) ?? this.groups.get(name);
    const title = kind?.options.title ?? titleFrom(name.slice(name.lastIndexOf(".") + 1));
    return typeof title === "function" ? title(locale) : title;
  }

  /** What new entries begin with, by full name. */
  get defaults(): Readonly<Record<string, unknown>> {
    if (this.#defaults === undefined) {
      const defaults: Record<string, unknown> = {};
      for (const [name, kind] of this.kinds) {
        const defaultValue: unknown = kind.options.default;
        if (defaultValue !== undefined) defaults[name] = defaultValue;
      }
      this.#defaults = Object.freeze(defaults);
    }
    return this.#defaults;
  }

  /** Whether a field is calculated. */
  isCalculated(name: string): boolean {
    return this.parts.calculations.has(name);
  }

  /**
   * Adds calculated values. Each follows what it reads, and is blank while something that it reads is required and
   * missing, or unreadable, or is a calculated value that is blank. A name that was declared as a field gives the value its kind, title and display.
   *
   * @example treeCard.calculated({ diameter: (t) => t.girth / Math.PI })
   */
  calculated<W extends Record<string, unknown>>(
    work: { readonly [N in keyof W]: (row: ReadRow<F, C, R>) => W[N] } & NotTwice<keyof W, keyof C>,
  ): Model<F, C & W, R, K> {
    requireFunctions(".calculated()", work);
    requireNames(".calculated()", work);
    for (const name of Object.keys(work)) if (this.isCalculated(name)) throw nameTaken(name, "a calculated value");
    return this.#with({ calculations: added(this.parts.calculations, work) });
  }

  /**
   * Gives fields of a new entry a value that follows others until a person, or code, gives another; `field.revert()`
   * makes it follow again. Two fields may propose each other, as centimetres and inches do: the one that was entered
   * last stands as it was entered, and the other is made from it.
   *
   * @example desk.proposed({ inches: (t) => t.centimetres / 2.54, centimetres: (t) => t.inches * 2.54 })
   */
  proposed<N extends PathsOf<F>>(work: {
    readonly [P in N]: (row: ReadRow<F, C, R>) => ValueOf<KindAt<F, P>> | undefined;
  }): Model<F, C, R, K> {
    requireFunctions(".proposed()", work);
    this.#known(Object.keys(work), ".proposed()");
    return this.#with({ proposals: added(this.parts.proposals, work) });
  }

  /**
   * Makes the choices of a field depend on other fields. A value that is no longer among them is kept, shown and is the
   * problem `notAChoice`. While something that they need is missing there are none.
   *
   * @example treeCard.choices({ cultivar: (t) => cultivars[t.species] })
   */
  choices<N extends PathsOf<F>>(work: {
    readonly [P in N]: (row: ReadRow<F, C, R>) => readonly ChoiceOf<ValueOf<KindAt<F, P>>>[];
  }): Model<F, C, R, K> {
    requireFunctions(".choices()", work);
    this.#known(Object.keys(work), ".choices()");
    return this.#with({ choices: added(this.parts.choices, work) });
  }

  /**
   * Makes fields relevant in some cases only. To rules, calculations and the saved row an irrelevant field is blank; what
   * was entered is kept for when it is relevant again.
   *
   * @example treeCard.relevant({ fenceCost: (t) => t.fenced })
   */
  relevant<N extends PathsOf<F>>(conditions: {
    readonly [P in N]: (row: ReadRow<F, C, R>) => boolean;
  }): Model<F, C, R | TopOf<N>, K> {
    requireFunctions(".relevant()", conditions);
    this.#known(Object.keys(conditions), ".relevant()");
    const inKey = this.parts.key.find((name) => Object.hasOwn(conditions, name));
    if (inKey !== undefined)
      throw new IronwoodError("wrongOption", `The field "${inKey}" is of the key, and a key can't be conditional`, {
        where: ".relevant()",
      });
    return this.#with({ relevance: added(this.parts.relevance, conditions) });
  }

  /**
   * Makes fields required in some cases: `true`, or the reason, which is then the message where one is missing.
   *
   * @example treeCard.required({ notes: (t) => t.condition === 3 && "Say what is wrong with a failing tree." })
   */
  required<N extends PathsOf<F>>(conditions: {
    readonly [P in N]: (row: ReadRow<F, C, R>) => boolean | string;
  }): Model<F, C, R, K> {
    requireFunctions(".required()", conditions);
    this.#known(Object.keys(conditions), ".required()");
    return this.#with({
      requirement: added(this.parts.requirement, conditions),
    });
  }

  /**
   * Lets people not change fields in some cases: `true`, or the reason, which the control then gives. Code still can.
   *
   * @example treeCard.readOnly({ species: (t) => t.fenced && "A fenced tree keeps its species." })
   */
  readOnly<N extends PathsOf<F>>(conditions: {
    readonly [P in N]: (row: ReadRow<F, C, R>) => boolean | string;
  }): Model<F, C, R, K> {
    requireFunctions(".readOnly()", conditions);
    this.#known(Object.keys(conditions), ".readOnly()");
    return this.#with({ protection: added(this.parts.protection, conditions) });
  }

  /**
   * Adds a check across fields. The name is the code of its problem.
   *
   * @throws `nameTaken` when another rule or a problem code has the name; `unknownField`
   */
  rule(name: string, options: RuleOptions<ReadRow<F, C, R>, PathsOf<F> | (keyof C & string)>): Model<F, C, R, K> {
    requireArgument(typeof name === "string", ".rule()", name, "a name, then what the rule is");
    requireOptions(`.rule("${name}")`, options, {
      shownAt: "list",
      holds: "function",
      message: "textOrFunction",
      severity: ["error", "warning"],
      quiet: "number",
      timeout: "number",
    });
    requireArgument(typeof options.holds === "function", `.rule("${name}")`, options, "holds, a function of the row");
    if (this.parts.rules.some((rule) => rule.name === name)) throw nameTaken(name, "a rule");
    if ((problemCodes as readonly string[]).includes(name)) throw nameTaken(name, "a code that Ironwood gives itself");
    const rule = newRule(name, options);
    this.#known(rule.shownAt, `.rule("${name}")`);
    return this.#with({ rules: [...this.parts.rules, rule] });
  }

  /**
   * Says what an older model called its fields, and how its rows are read, so that rows, drafts and tables that were kept by it are read. Said
   * once for each time that the model changed, the oldest first. What nothing is said of is refused row by row, with the reason, and stays where it is.
   *
   * @param older - `fields`: by the name of a field, the name that it had, or several. `read`: is handed a row as it was kept, under the names of
   *   then, where the model can't read something in it, and gives fields as they are now; what `read` has looked at counts as read. A field that the
   *   row has already stays as it is
   * @throws `unknownField` for a field that is not declared; `nameTaken` for a former name that is a field still, or of two fields
   * @example
   * treeCard.formerly({
   *   fields: { girth: "circumference" },
   *   read: (older) => ({ height: Number(older.heightInFeet) * 30.48 }),
   * })
   */
  formerly(older: {
    readonly fields?: { readonly [P in PathsOf<F>]?: string | readonly string[] | undefined } | undefined;
    readonly read?: ((older: Readonly<Record<string, unknown>>) => GivenRow<F, C>) | undefined;
  }): Model<F, C, R, K> {
    requireOptions(".formerly()", older, { fields: "object", read: "function" });
    requireFormerNames(older.fields ?? {}, this.names, [...this.kinds.keys()]);
    return this.#with({ formerly: [...this.parts.formerly, formerlyOf(older)] });
  }

  #with(more: Partial<Parts>): never {
    return new Model({ ...this.parts, ...more }) as never;
  }

  #known(names: readonly string[], where: string): void {
    for (const name of names)
      if (!this.names.includes(name) && !this.groups.has(name))
        throw unknownName("unknownField", "The field", name, [...this.names, ...this.groups.keys()], where);
  }
}

/** The field of the model that a full name is in: where a part of a group is conditional, the group may lack it. */
type TopOf<N> = N extends `${infer T}.${string}` ? T : N;

/** One choice of a field: of a list, one of its items. */
type ChoiceOf<V> = V extends readonly (infer I)[] ? ChoiceOf<I> : V | { readonly const: V; readonly title: string };

/** @param more - functions of the row by name; the model's methods have checked that their types fit the model */
function added<T>(map: ReadonlyMap<string, T>, more: object): ReadonlyMap<string, T> {
  return new Map([...map, ...Object.entries(more as Readonly<Record<string, T>>)]);
}

function nameTaken(name: string, by: string): IronwoodError {
  return new IronwoodError("nameTaken", `The name "${name}" is taken by ${by}`, { expected: "a name of its own" });
}

/** Any model. */
// Rows go into a model's functions and come out of them, so only `any` takes them all.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyModel = Model<any, any, any, any>;

type PartsOf<M> = M extends {
  readonly types?: {
    readonly fields: infer F extends Fields;
    readonly calculated: infer C;
    readonly conditional: infer R;
    readonly key: infer K;
  };
}
  ? { fields: F; calculated: C; conditional: R; key: K }
  : never;

/** The row that a model's entries save. */
export type RowOf<M> = CompleteRow<PartsOf<M>["fields"], PartsOf<M>["calculated"], PartsOf<M>["conditional"]>;
/** The type by which a model's rows are found: of one field its value, of several a list of them, generated a number. */
export type KeyOf<M> =
  PartsOf<M> extends { key: infer K }
    ? [K] extends [never]
      ? number
      : K extends readonly (keyof RowOf<M>)[]
        ? { readonly [I in keyof K]: RowOf<M>[K[I] & keyof RowOf<M>] }
        : K extends keyof RowOf<M>
          ? RowOf<M>[K]
          : unknown
    : never;
/** The row as rules and calculations are handed it. */
export type ReadRowOf<M> = ReadRow<PartsOf<M>["fields"], PartsOf<M>["calculated"], PartsOf<M>["conditional"]>;
/** The values of a model's entry while it is being filled in. */
export type ValuesOf<M> = Shown<InProgress<PartsOf<M>["fields"], PartsOf<M>["calculated"]>>;
/** What a model's entry can begin with. */
export type GivenOf<M> = GivenRow<PartsOf<M>["fields"], PartsOf<M>["calculated"]>;
/** The full names of a model's fields and groups, what is calculated included. */
export type FieldPathsOf<M> =
  string extends NamesOf<M> ? string : PathsOf<PartsOf<M>["fields"]> | (keyof PartsOf<M>["calculated"] & string);
/** The full names of a model's declared fields and groups. */
export type DeclaredPathsOf<M> = PathsOf<PartsOf<M>["fields"]>;
/** The names of a model's declared fields that are not calculated. */
export type DeclaredNames<M> = Exclude<keyof PartsOf<M>["fields"], keyof PartsOf<M>["calculated"]> & string;
/** The names of all fields of a model. */
export type NamesOf<M> = (keyof PartsOf<M>["fields"] | keyof PartsOf<M>["calculated"]) & string;
/** The kind of a declared field. */
export type KindOf<M, N> = N extends keyof PartsOf<M>["fields"] ? PartsOf<M>["fields"][N] : never;

/**
 * Declares one kind of row.
 *
 * @param fields - a kind for each name, in the order in which people see them
 * @throws `refusedName` for a name that JavaScript or HTML has a use for, is a whole number, or holds a dot or a slash
 * @throws `unknownField` when the key is no field
 * @example
 * const bed = model({ code: text({ required: true }), length: number({ unit: "meter" }) }, { title: "Bed", key: "code" });
 */
export function model<
  F extends Fields,
  const K extends (keyof F & string) | readonly (keyof F & string)[] | undefined = undefined,
>(
  fields: F,
  options: ModelOptions<keyof F & string> & { readonly key?: K } = {},
): Model<F, unknown, never, K extends undefined ? never : K> {
  requireFields("model", fields);
  requireOptions("model", options, { title: "text", key: "any" });
  requireNames("model()", fields);
  const names = Object.keys(fields);
  const given: string | readonly string[] | undefined = options.key;
  const key = [given === undefined ? [] : given].flat();
  for (const name of key)
    if (!names.includes(name)) throw unknownName("unknownField", "The key", name, names, "model()");
  const none = new Map<string, never>();
  return new Model({
    fields,
    title: options.title,
    key,
    calculations: none,
    proposals: none,
    choices: none,
    relevance: none,
    requirement: none,
    protection: none,
    rules: [],
    formerly: [],
  });
}
