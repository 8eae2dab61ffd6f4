/** The name of the command that a button's `command` attribute asks for: `--add-species` is `addSpecies`. */
export const commandName = (attribute: string): string =>
  attribute.replace(/^--/, "").replace(/-(\p{Ll}|\d)/gu, (_, letter: string) => letter.toUpperCase());

/** The `command` attribute for a command's name: `addSpecies` is `--add-species`. */
export const commandAttribute = (name: string): string =>
  `--${name.replace(/\p{Lu}/gu, (letter) => `-${letter.toLowerCase()}`)}`;
