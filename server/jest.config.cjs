module.exports = { ...require('../scripts/jest-in-node.cjs')(__dirname), globalSetup: './test/before.cjs' };
