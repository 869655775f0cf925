import files from './.dependency-cruiser.cjs';

/** Folders import each other one way too: tests apart, which stand beside what they test. */
export default {
  forbidden: [
    { name: 'no-folder-cycles', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
  ],
  options: { ...files.options, exclude: { path: '(^|/)(dist|node_modules|test-support)/|\\.test\\.ts$' } },
};
