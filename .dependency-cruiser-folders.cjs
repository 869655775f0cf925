/** Folders import each other one way too: tests apart, which stand beside what they test. */
const { options } = require('./.dependency-cruiser.cjs');

module.exports = {
  forbidden: [
    { name: 'no-folder-cycles', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
  ],
  options: { ...options, exclude: { path: '(^|/)(dist|node_modules|test-support)/|\\.test\\.ts$' } },
};
