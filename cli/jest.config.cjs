module.exports = require('../scripts/jest-in-node.cjs')(__dirname);
