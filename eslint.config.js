import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', '.astro', 'node_modules', 'tests/fixtures', 'src/env.d.ts'] },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.strictTypeChecked, ...tseslint.configs.stylisticTypeChecked],
    languageOptions: {
      // One program for all files; a service that opens one after the other takes a tenth longer.
      parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      // `{ gone, ...rest }` is how a field is left out.
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      // A mapped type does not say what its keys are; `[key: string]` does.
      '@typescript-eslint/consistent-indexed-object-style': 'off',
      // There are no enums, and what is assigned to a class's own type is checked by the compiler; the two take a sixth of all time.
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      // `as number` states that an index is in range; `!` would say the same with less.
      '@typescript-eslint/non-nullable-type-assertion-style': 'off',
    },
  },
  {
    files: ['**/*.tsx'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['tests/**/*.ts'],
    rules: {
      // Chai asserts by property access.
      '@typescript-eslint/no-unused-expressions': 'off',
    },
  },
  { files: ['**/*.{js,mjs}'], languageOptions: { globals: globals.node } },
);
