/**
 * Unit tests lie beside their code; what crosses folders or asks an outside reference lies in tests/. Playwright's own
 * are *.spec.ts.
 */
export default {
  // Packages that come as modules only.
  transformIgnorePatterns: [
    '/node_modules/(?!(@ant-design/colors|@ant-design/fast-color|p-queue|eventemitter3|p-timeout|lru-cache|content-disposition|range-parser|exif-reader|parse-exr|@noble/hashes)/)',
  ],
  testEnvironment: 'node',
  // Within Jest's sandbox each look at a global takes its time: loops over pixels ran four times as long.
  sandboxInjectedGlobals: [
    ...['Math', 'Number', 'Array', 'Map', 'Set'],
    ...['Float32Array', 'Float64Array', 'Int16Array', 'Int32Array'],
    ...['Uint8Array', 'Uint8ClampedArray', 'Uint16Array', 'Uint32Array'],
  ],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  testPathIgnorePatterns: ['/node_modules/', '/.next/', '/.build/', '/.scratch/'],
  modulePathIgnorePatterns: ['/.next/', '/.build/'],
  transform: {
    '^.+\\.(tsx?|js)$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
          target: 'es2022',
        },
        module: { type: 'commonjs' },
      },
    ],
  },
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/$1' },
  // Ends what hangs; speed is judged in bench/ alone.
  testTimeout: 20 * 60_000,
};
