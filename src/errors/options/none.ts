import type { RequireArgument, RequireOptions } from "./OptionTypes.ts";

// In a bundle for production nothing is checked that only its builder can have got wrong, who was told of it before.

export const requireOptions: RequireOptions = /* @__NO_SIDE_EFFECTS__ */ () => undefined;

export const requireArgument: RequireArgument = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
