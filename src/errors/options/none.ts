import type * as checked from "./checked.ts";

// In a bundle for production nothing is checked that only its builder can have got wrong, who was told of it before.

export const requireArgument: typeof checked.requireArgument = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireElement: typeof checked.requireElement = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireEntry: typeof checked.requireEntry = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireFields: typeof checked.requireFields = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireFormerNames: typeof checked.requireFormerNames = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireFunctions: typeof checked.requireFunctions = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireGiven: typeof checked.requireGiven = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireKind: typeof checked.requireKind = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireKindOptions: typeof checked.requireKindOptions = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireModel: typeof checked.requireModel = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireNames: typeof checked.requireNames = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireOptions: typeof checked.requireOptions = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireOptionsOf: typeof checked.requireOptionsOf = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requirePage: typeof checked.requirePage = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireRange: typeof checked.requireRange = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireRows: typeof checked.requireRows = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireTable: typeof checked.requireTable = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireValues: typeof checked.requireValues = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
export const requireView: typeof checked.requireView = /* @__NO_SIDE_EFFECTS__ */ () => undefined;
