/** What a node of the engine is; explanations and inspectors tell nodes apart by it, and never by their names. */
export type NodeSort =
  | "value"
  | "calculation"
  | "proposal"
  | "condition"
  | "choices"
  | "rule"
  | "allowed"
  /** A list that is gathered from others, as all problems of an entry. */
  | "gathered"
  /** A view, a search, or anything else that is none of these. */
  | "other";

/** What a calculation is, and what it belongs to. */
export interface NodeIdentity {
  readonly sort: NodeSort;
  /** The field, rule or command: an object, or its name where it has no object of its own. */
  readonly of: { readonly name: string } | string;
}

const words: Readonly<Partial<Record<NodeSort, string>>> = {
  proposal: "what is proposed for ",
  condition: "condition of ",
  choices: "choices of ",
  rule: "rule ",
  allowed: "whether it is allowed: ",
};

/** How messages call a node. */
export function nodeName({ sort, of }: NodeIdentity): string {
  const name = typeof of === "string" ? of : of.name;
  return (words[sort] ?? "") + (name === "" ? "a calculation without a name" : name);
}
