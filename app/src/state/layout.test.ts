import { changeHeight, moveDesk, nextHeight, useLayout } from './layout';

it('the wide desk has three heights, is low at first, and is remembered', () => {
  expect(useLayout.getState()).toEqual({ height: 'low', upright: 'side' });
  changeHeight(-1);
  expect(useLayout.getState().height).toBe('low');
  nextHeight();
  nextHeight();
  expect(useLayout.getState().height).toBe('full');
  changeHeight(1);
  expect(useLayout.getState().height).toBe('full');
  nextHeight();
  expect(useLayout.getState().height).toBe('low');
  moveDesk();
  expect(useLayout.getState().upright).toBe('below');
});
