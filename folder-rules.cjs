// A folder is a room: what it uses does not use it, over any number of rooms. Tests may look into every room and are left out.
const { options } = require('./dependency-rules.cjs');
module.exports = {
  forbidden: [{ name: 'no-circles-of-folders', severity: 'error', scope: 'folder', from: {}, to: { circular: true } }],
  options: { ...options, exclude: { path: '\\.css$|\\.(test|fixture)\\.tsx?$|^node_modules' } },
};
