/** Lays an empty shelf out, for all tests to begin with. */
module.exports = async () => {
  const { emptyShelf } = await import('../../scripts/empty-shelf.mjs');
  process.env.BEXLEN_EMPTY_SHELF = await emptyShelf();
};
