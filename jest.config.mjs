/** Unit tests and browser tests are two projects, so that one can be run without the other. */
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
      testPathIgnorePatterns: ["/test/pages/", "/test/engines/"],
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
