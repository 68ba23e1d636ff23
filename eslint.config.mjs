import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "node_modules", ".astro", ".data", "public", "tests/fixtures", "**/*.cjs", "**/*.astro", "**/*.mjs"] },
  ...tseslint.configs.recommendedTypeChecked,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_", ignoreRestSiblings: true }],
      "@typescript-eslint/consistent-type-imports": ["error", { disallowTypeAnnotations: false }],
      "no-restricted-syntax": [
        "error",
        {
          selector: ":matches(ObjectExpression, JSXOpeningElement) > :matches(SpreadElement, JSXSpreadAttribute) > ObjectExpression.argument",
          message: "Write the properties themselves: a spread that only groups them hides them.",
        },
        {
          selector: "ArrayExpression > SpreadElement > :matches(ArrayExpression, TSAsExpression > ArrayExpression)",
          message: "Write the elements themselves: a spread that only groups them hides them.",
        },
      ],
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false, arguments: false } }],
    },
  },
);
