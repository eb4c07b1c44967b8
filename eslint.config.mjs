import next from 'eslint-config-next/core-web-vitals';
import nextTypescript from 'eslint-config-next/typescript';
import prettier from 'eslint-config-prettier/flat';

const config = [
  {
    ignores: [
      '.next/**',
      '.cache/**',
      'node_modules/**',
      'next-env.d.ts',
      'public/**',
      'core/kernels/assembly/**',
      'core/kernels/generated/**',
    ],
  },
  ...next,
  ...nextTypescript,
  prettier,
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': ['error', { allow: ['error'] }],
      eqeqeq: ['error', 'smart'],
    },
  },
  {
    files: ['scripts/**', 'cli/**', 'demo/**', 'e2e/**', 'bench/**', 'codecs/fuzz/main.ts'],
    rules: { 'no-console': 'off' },
  },
];
export default config;
