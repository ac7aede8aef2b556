import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const NAMES = { controlComponents: ["Checkbox", "Select", "input", "textarea"], depth: 3 };

export default tseslint.config(
  { ignores: ["node_modules", "dist", "eslint.config.js", "worker", "src/shared/api/schema.d.ts"] },
  ...tseslint.configs.recommendedTypeChecked,
  reactHooks.configs.flat["recommended-latest"],
  jsxA11y.flatConfigs.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-unused-vars": ["error", { varsIgnorePattern: "^_", argsIgnorePattern: "^_" }],
      "jsx-a11y/label-has-associated-control": ["error", NAMES],
      "jsx-a11y/no-autofocus": "off", // a dialog and a new line ask for the hands at once, where nothing was read before
      "max-lines-per-function": ["error", { max: 80, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: ["tests/**"], rules: { "max-lines-per-function": "off" } },
);
