/** Makes a file of the page small, by names and forms: `minify` of Metro's contract, one module at a time. */
const swc = require('@swc/core');

module.exports = ({ code, map }) => ({
  code: swc.minifySync(code, { compress: { reduce_funcs: false }, mangle: { toplevel: false }, module: false }).code,
  map,
});
