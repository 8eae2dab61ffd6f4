// What is checked of each public call wherever its builder can see what is told.
export * from "./checkedArguments.ts";
export * from "./checkedKinds.ts";
export * from "./checkedNames.ts";
export * from "./checkedOptions.ts";
