/** Tests that write to disk, open databases, start other programs, use the built library, or measure how work grows. */
const places = [
  ...["changedFiles", "csv", "drafts", "files", "given", "olderModels", "service", "sqlite", "sqliteTables", "stores"],
  ...["tablesOfOthers", "together", "processes", "commandLine", "compiler", "guide", "house", "linear", "sizes"],
];
const placesPattern = `/test/(${places.join("|")})\\.test\\.ts$`;

/** Three projects, so that each can be run without the others: in memory and quick; at places; in the browser. */
const shared = {
  extensionsToTreatAsEsm: [".ts"],
  transform: { "\\.ts$": ["@swc/jest", { jsc: { target: "es2023", parser: { syntax: "typescript" } } }] },
  testEnvironment: "node",
  // What is imported by a name of the package's own is of the sources too.
  testEnvironmentOptions: { customExportConditions: ["ironwood-source", "node", "node-addons"] },
};
export default {
  projects: [
    {
      ...shared,
      displayName: "unit",
      testMatch: ["<rootDir>/test/**/*.test.ts"],
      testPathIgnorePatterns: ["/test/pages/", "/test/engines/", placesPattern],
    },
    {
      ...shared,
      displayName: "places",
      testMatch: places.map((name) => `<rootDir>/test/${name}.test.ts`),
    },
    {
      ...shared,
      displayName: "pages",
      testMatch: ["<rootDir>/test/pages/**/*.test.ts"],
      globalSetup: "<rootDir>/test/pages/globalSetup.mjs",
    },
    // Other engines are there where somebody has installed them: `npm run engines`.
    ...(process.env.ENGINE === undefined
      ? []
      : [
          {
            ...shared,
            displayName: "engines",
            testMatch: ["<rootDir>/test/engines/**/*.test.ts"],
            globalSetup: "<rootDir>/test/pages/globalSetup.mjs",
          },
        ]),
  ],
  testTimeout: 60_000,
};
