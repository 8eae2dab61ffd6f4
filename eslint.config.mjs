import js from "@eslint/js";
import tseslint from "typescript-eslint";
import { importDirections } from "./eslint/importDirections.mjs";
import { noCircles } from "./eslint/noCircles.mjs";

const ironwood = { rules: { "import-directions": importDirections, "no-circles": noCircles } };

export default tseslint.config(
  { ignores: ["dist/", ".cache/", "node_modules/", "test/fixtures/"] },
  js.configs.recommended,
  {
    files: ["**/*.ts"],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: { parserOptions: { project: ["tsconfig.tests.json"], tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-non-null-assertion": "off",
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true, allowBoolean: true }],
      "@typescript-eslint/no-confusing-void-expression": [
        "error",
        { ignoreArrowShorthand: true, ignoreVoidReturningFunctions: true },
      ],
      "@typescript-eslint/no-invalid-void-type": "off",
      "@typescript-eslint/no-unnecessary-type-parameters": "off",
      "@typescript-eslint/consistent-type-imports": "error",
      // Values of unknown type are shown as text on purpose, and texts are counted in code points, as JSON Schema says.
      "@typescript-eslint/no-base-to-string": "off",
      "@typescript-eslint/no-misused-spread": "off",
      // The engine throws symbols to end an evaluation: making an Error costs a stack trace each time.
      "@typescript-eslint/only-throw-error": "off",
      "@typescript-eslint/no-unsafe-class-instance-assignment": "off",
      "no-eval": "error",
    },
  },
  {
    files: ["src/**/*.ts"],
    plugins: { ironwood },
    rules: {
      "ironwood/import-directions": "error",
      "ironwood/no-circles": "error",
      "max-lines": ["error", { max: 400, skipBlankLines: true }],
      "no-nested-ternary": "error",
      "no-multi-assign": "error",
      "no-return-assign": ["error", "always"],
      "no-restricted-syntax": [
        "error",
        {
          selector: "AssignmentExpression > MemberExpression[property.name=/^(innerHTML|outerHTML)$/]",
          message: "What people supply is text, never markup.",
        },
        {
          selector: "CallExpression[callee.property.name='insertAdjacentHTML']",
          message: "What people supply is text, never markup.",
        },
        {
          selector:
            ":not(ExpressionStatement, ForStatement, SequenceExpression, ArrowFunctionExpression) > AssignmentExpression",
          message: "An assignment is a statement of its own.",
        },
      ],
    },
  },
  {
    files: ["test/**/*.ts", "bench/**/*.ts"],
    rules: {
      "@typescript-eslint/no-empty-function": "off",
      "@typescript-eslint/no-unsafe-assignment": "off",
      "@typescript-eslint/no-unsafe-member-access": "off",
      "@typescript-eslint/require-await": "off",
      "@typescript-eslint/unbound-method": "off",
    },
  },
  {
    files: ["**/*.mjs"],
    languageOptions: {
      globals: {
        document: "readonly",
        process: "readonly",
        console: "readonly",
        URL: "readonly",
        setTimeout: "readonly",
        clearTimeout: "readonly",
        AbortController: "readonly",
        fetch: "readonly",
      },
    },
  },
);
