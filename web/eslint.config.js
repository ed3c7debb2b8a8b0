import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...tseslint.configs.strictTypeChecked,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  {
    plugins: { "react-hooks": hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }],
    },
  },
  // A feature stands alone: what two of them share lies below them, in ui, plan or drawing. The app puts them together.
  {
    files: ["src/features/**"],
    rules: { "no-restricted-imports": ["error", { patterns: [{ regex: "^\\.\\./[a-z]|/app/" }] }] },
  },
  {
    files: ["src/{api,drawing,plan,ui}/**"],
    rules: { "no-restricted-imports": ["error", { patterns: [{ regex: "/(app|features)/" }] }] },
  },
);
