/** The name of the command that a button's `command` attribute asks for: `--add-species` is `addSpecies`. */
export const commandName = (attribute: string): string =>
  attribute.replace(/^--/, "").replace(/-(\p{Ll}|\d)/gu, (_, letter: string) => letter.toUpperCase());

/** The `command` attribute for a command's name: `addSpecies` is `--add-species`. */
export const commandAttribute = (name: string): string =>
  `--${name.replace(/\p{Lu}/gu, (letter) => `-${letter.toLowerCase()}`)}`;

/** The name of a command that leads through steps: those given as `route` have `routeNext`, `routeBack`, `routeFinish`. */
export const stepCommand = (steps: string, what: string): string =>
  `${steps}${what.slice(0, 1).toUpperCase()}${what.slice(1)}`;

/** What leads through steps. */
export const stepCommandNames = ["next", "back", "finish"] as const;
