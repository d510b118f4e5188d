import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import { importX } from "eslint-plugin-import-x";
import jsxA11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...ts.configs.recommended,
  jsxA11y.flatConfigs.recommended,
  hooks.configs.flat.recommended,
  {
    files: ["src/**/*.{ts,tsx}"],
    plugins: { "import-x": importX },
    settings: { "import-x/resolver-next": [createTypeScriptImportResolver()] },
    rules: {
      "no-console": "error",
      "import-x/no-cycle": "error",
      // House rule: drawings and domain fetch nothing; screens reach the server through their own queries.
      "no-restricted-imports": [
        "error",
        {
          patterns: [
            { group: ["../screens/*", "*/api/schema"], message: "see docs/architecture.md" },
          ],
        },
      ],
      "jsx-a11y/no-autofocus": "off",
    },
  },
  // A component shows one thing: about 120 lines as the formatter writes them, then it is split by what it shows.
  {
    files: ["src/**/*.tsx"],
    rules: {
      "max-lines-per-function": ["error", { max: 120, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: ["src/api/**", "src/app/App.tsx"], rules: { "no-restricted-imports": "off" } },
  {
    files: ["src/drawings/**", "src/domain/**"],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: [
            {
              group: ["@tanstack/*", "*/api/client", "*/api/queries"],
              message: "no fetching here",
            },
          ],
        },
      ],
    },
  },
);
