import { StyleSheet } from "../styleSheet.ts";

// The arrow is drawn by the style, so that the text of the label round the field stays what it is.
const styles = new StyleSheet(`
:where([data-opens]) { inline-size: 1.75em; margin-inline-start: -1.75em; padding: 0; border: 0; color: inherit; background: none; }
:where([data-opens])::before { content: "\\25BE" / ""; }
:where([data-opens]:disabled) { opacity: 0.4; }
:where(td[data-editing] > [data-opens]) { position: absolute; inset-block: 0; inset-inline-end: 0; margin: 0; }
`);

/** The button with an arrow that shows that a text field has a list. */
export interface Opener {
  readonly button: HTMLButtonElement;
  stop(): void;
}

/**
 * Makes the button, behind the field. As the combobox pattern of ARIA has it, it is out of the order of focus; it is out of the
 * accessibility tree too, since the field itself says that it has a list, and opens it by a press or by an arrow key.
 */
export function makeOpener(input: HTMLInputElement, press: () => void): Opener {
  const button = input.ownerDocument.createElement("button");
  button.type = "button";
  button.tabIndex = -1;
  button.ariaHidden = "true";
  button.dataset["opens"] = "";
  button.addEventListener("pointerdown", (event) => {
    // The focus goes to the field, and stays there.
    event.preventDefault();
    input.focus();
  });
  button.addEventListener("click", press);
  input.after(button);
  const dropStyles = styles.use(input);
  return {
    button,
    stop: () => {
      button.remove();
      dropStyles();
    },
  };
}
