import { favouritesFirst, toggleFavourite, useFavourites } from './favourites';

it('favourites stand first, and the rest as before', () => {
  const list = ['a', 'b', 'c', 'd'].map((id) => ({ id }));
  toggleFavourite('c');
  toggleFavourite('b');
  expect(favouritesFirst(list, useFavourites.getState().kinds).map(({ id }) => id)).toEqual(['b', 'c', 'a', 'd']);
  toggleFavourite('c');
  expect(useFavourites.getState().kinds).toEqual(['b']);
});
