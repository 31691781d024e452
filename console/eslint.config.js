import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', 'src/shared/schema.d.ts'] },
  ...tseslint.configs.recommended,
  { plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'warn' } },
  {
    files: ['src/features/*/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: [{ group: ['../../features/*', '../../app/*', '../../[a-r]*', '../../[t-z]*'], message: 'Features import from shared, never from one another.' }] }] },
  },
);
