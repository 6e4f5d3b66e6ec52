import js from "@eslint/js";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

// From the ground up: what the server says, what all share, drawings, features, and the frame with its routes. A layer
// knows those before it; a feature knows another by its door, index.ts. frontend/tests/rooms.test.ts forbids circles.
const LAYERS = ["api", "shared", "drawing", "features", "app"];

/** @param {string} folder @param {string} regex @param {string} message */
const forbid = (folder, regex, message) => ({
  files: [`src/${folder}/**/*.{ts,tsx}`],
  rules: { "no-restricted-imports": ["error", { patterns: [{ regex, message }] }] },
});
const above = (/** @type {string} */ layer) => LAYERS.slice(LAYERS.indexOf(layer) + 1).join("|");

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  jsxA11y.flatConfigs.recommended,
  reactHooks.configs.flat.recommended,
  { files: ["tests/**/*.mjs"], languageOptions: { globals: globals.node } },
  {
    files: ["src/**/*.{ts,tsx}"],
    languageOptions: { globals: globals.browser },
    rules: {
      // A pound, an inch and gravity stand once, in shared/format.ts, where tests hold them against the core.
      "no-restricted-syntax": ["error", "Literal[raw=/^(0[.]4535|0[.]0254$|9[.]80|0[.]02834)/]"],
      // What is longer has parts that deserve a name.
      "max-lines-per-function": ["error", { max: 150, skipBlankLines: true, skipComments: true }],
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/consistent-type-imports": "error",
      // One screen at a time has the field a teacher types in next.
      "jsx-a11y/no-autofocus": "off",
    },
  },
  ...["api", "shared", "drawing"].map((layer) =>
    forbid(layer, `^(\\.\\./)+(${above(layer)})/`, `What ${layer} is made of knows nothing above it.`),
  ),
  forbid(
    "features",
    "^(\\.\\./)+app/|^\\.\\./(?!\\.\\.)[^/]+/",
    "A feature knows nothing of the frame, and another feature by its door alone: ../bench, not ../bench/TrialList.",
  ),
  {
    files: ["tests/**/*.{ts,tsx}"],
    ignores: ["tests/until.ts"],
    rules: {
      // It gives up after a second, which a slow machine needs for a request now and then.
      "no-restricted-properties": ["error", { object: "vi", property: "waitFor", message: "Take until." }],
    },
  },
  { files: ["src/shared/format.ts"], rules: { "no-restricted-syntax": "off" } },
);
