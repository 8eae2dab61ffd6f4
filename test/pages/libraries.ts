/** Elements of three component libraries, as they are shipped, and Ironwood: what libraries.test.ts loads into a page. */
import "@material/web/checkbox/checkbox.js";
import "@material/web/radio/radio.js";
import "@material/web/select/outlined-select.js";
import "@material/web/select/select-option.js";
import "@material/web/slider/slider.js";
import "@material/web/switch/switch.js";
import "@material/web/textfield/outlined-text-field.js";
import "@shoelace-style/shoelace/dist/components/checkbox/checkbox.js";
import "@shoelace-style/shoelace/dist/components/input/input.js";
import "@shoelace-style/shoelace/dist/components/option/option.js";
import "@shoelace-style/shoelace/dist/components/radio/radio.js";
import "@shoelace-style/shoelace/dist/components/radio-group/radio-group.js";
import "@shoelace-style/shoelace/dist/components/range/range.js";
import "@shoelace-style/shoelace/dist/components/select/select.js";
import "@shoelace-style/shoelace/dist/components/switch/switch.js";
import "@shoelace-style/shoelace/dist/components/textarea/textarea.js";
import {
  fluentCheckbox,
  fluentOption,
  fluentRadio,
  fluentRadioGroup,
  fluentSelect,
  fluentSlider,
  fluentSwitch,
  fluentTextArea,
  fluentTextField,
  provideFluentDesignSystem,
} from "@fluentui/web-components";
import * as core from "../../src/index.ts";
import * as page from "../../src/page/index.ts";

provideFluentDesignSystem().register(
  fluentCheckbox(),
  fluentOption(),
  fluentRadio(),
  fluentRadioGroup(),
  fluentSelect(),
  fluentSlider(),
  fluentSwitch(),
  fluentTextArea(),
  fluentTextField(),
);

Object.assign(globalThis, { ironwood: { ...core, ...page }, kept: {} });
