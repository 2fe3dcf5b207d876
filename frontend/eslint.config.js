import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** What a folder may not reach for, and why. */
const not = (...patterns) => [
  "error",
  { patterns: patterns.map(([regex, message]) => ({ regex, message })) },
];
const doors = "only by its door: the folder's index";
const INTO_A_PLACE = ["/places/", "parts, api, draft, lists and look know no place"];
const PAST_A_DOOR = ["/(api|draft|lists)/.", doors];

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...tseslint.configs.strict,
  {
    plugins: { "react-hooks": hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      eqeqeq: "error",
      "@typescript-eslint/no-unused-vars": ["error", { ignoreRestSiblings: true }],
    },
  },
  {
    files: ["src/{parts,api,draft,lists,look,customer}/**/*.{ts,tsx}"],
    rules: { "no-restricted-imports": not(INTO_A_PLACE, PAST_A_DOOR) },
  },
  {
    files: ["src/*.{ts,tsx}"],
    rules: { "no-restricted-imports": not(["^\\./places/[^/]+/.", doors], PAST_A_DOOR) },
  },
  {
    files: ["src/places/*/*.{ts,tsx}"],
    rules: { "no-restricted-imports": not(["^\\.\\./(?!\\.\\.)[^/]+/.", doors], PAST_A_DOOR) },
  },
  {
    files: ["src/places/*/*/*.{ts,tsx}"],
    rules: { "no-restricted-imports": not(["^(\\.\\./){2}(?!\\.\\.)[^/]+/.", doors], PAST_A_DOOR) },
  },
);
