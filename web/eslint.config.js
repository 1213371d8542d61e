import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-quotes': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/attributes-order': 'off',
      'vue/require-default-prop': 'off',
    },
  },
  // The arrows run one way: stations, frame, marks, api.
  {
    files: ['src/api/**'],
    rules: {
      'no-restricted-imports': ['error', { patterns: ['@/frame/*', '@/marks/*', '@/stations', '@/stations/*'] }],
    },
  },
  {
    files: ['src/marks/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['@/frame/*', '@/stations', '@/stations/*'] }] },
  },
  {
    files: ['src/frame/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['@/stations', '@/stations/*'] }] },
  },
  // A station knows no other: what two need lies in the frame.
  {
    files: ['src/stations/*/**'],
    rules: {
      'no-restricted-imports': ['error', { patterns: ['@/stations', '@/stations/*', '../../*', '../[a-z]*/**'] }],
    },
  },
  { ignores: ['src/api/schema.ts'] },
)
