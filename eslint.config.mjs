// One question only, which the other linter does not ask: may a regular expression take more than linear time on some text?
import parser from '@typescript-eslint/parser'
import regexp from 'eslint-plugin-regexp'

export default [
  { ignores: ['dist/**', 'node_modules/**', '.astro/**', 'test-results/**', '**/*.test.ts'] },
  {
    files: ['src/**/*.{ts,tsx}', 'demo/**/*.ts', 'scripts/**/*.mjs', 'bench/**/*.ts'],
    languageOptions: { parser, ecmaVersion: 2022, sourceType: 'module' },
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential', ignoreSticky: false }],
    },
  },
]
