import js from "@eslint/js";
import i18next from "eslint-plugin-i18next";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  reactHooks.configs.flat.recommended,
  {
    // All that a user reads goes through `t`.
    files: ["src/**/*.tsx"],
    ignores: ["src/**/*.test.tsx"],
    plugins: { i18next },
    rules: {
      "i18next/no-literal-string": [
        "error",
        {
          mode: "jsx-only",
          "jsx-attributes": { include: ["label", "title", "aria-label", "placeholder", "alt"] },
          callees: { exclude: ["counted", "keyOf", "t"] },
          // Names of things in code, of units and of papers.
          words: {
            exclude: [
              "[^A-Za-z]*",
              "[A-Za-z]",
              "(front|side|start|end|then|now|plan|list|hold|frame|rounds|tempo)",
              "(insideTopLeft|var\\(.*\\))",
              "(Sulvet|mm|Hz|px|US Letter|A4|A4 =)",
            ],
          },
        },
      ],
    },
  },
);
