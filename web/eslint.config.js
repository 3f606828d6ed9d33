import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...ts.configs.strict,
  hooks.configs.flat["recommended-latest"],
  { rules: { "@typescript-eslint/no-non-null-assertion": "off" } },
);
