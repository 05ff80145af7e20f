/** A browser's images: those that know no colours but sRGB refuse to be told of others. */
class Plain {
  constructor(...given: unknown[]) {
    if (given.some((each) => typeof each === 'object' && each !== null && 'colorSpace' in each)) throw new TypeError('Argument 1 is not an object.');
  }
}
class Wide {
  readonly colorSpace: string;
  constructor(...given: unknown[]) {
    const settings = given.find((each) => typeof each === 'object' && each !== null && 'colorSpace' in each) as { colorSpace: string } | undefined;
    this.colorSpace = settings?.colorSpace ?? 'srgb';
  }
}
/** A page in a browser of which images and canvases are of some make. */
function pageOf(image: unknown, canvas: string): typeof import('./wide') {
  jest.resetModules();
  const context = { getContextAttributes: () => ({ colorSpace: canvas }) };
  Object.assign(globalThis, { ImageData: image, document: { createElement: () => ({ getContext: () => context }) } });
  return jest.requireActual('./wide');
}

it('where images hold sRGB only, a wide one is made as one of sRGB, and is told as such', () => {
  const page = pageOf(Plain, 'srgb');
  expect(page.holdsWide()).toBe(false);
  const images = [page.newImage(2, 1, 'display-p3'), page.newImage(2, 1, 'display-p3', new Uint8ClampedArray(8)), page.newImage(2, 1, 'srgb')];
  expect(images.map(page.gamutOf)).toEqual(['srgb', 'srgb', 'srgb']);
});

it('where images could be wide and canvases could not, neither is', () => {
  const page = pageOf(Wide, 'srgb');
  expect([page.holdsWide(), page.gamutOf(page.newImage(2, 1, 'display-p3'))]).toEqual([false, 'srgb']);
});

it('where both hold more, an image is of its own primaries', () => {
  const page = pageOf(Wide, 'display-p3');
  expect(page.holdsWide()).toBe(true);
  expect((['display-p3', 'srgb'] as const).map((gamut) => page.gamutOf(page.newImage(2, 1, gamut)))).toEqual(['display-p3', 'srgb']);
});
