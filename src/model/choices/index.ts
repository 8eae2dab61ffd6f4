/** Apart from the rest of the models, so that lists of choices have their words where they are loaded. */
export { choicesEnglish } from "../english/choices.ts";
