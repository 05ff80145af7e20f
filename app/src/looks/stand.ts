import { beneathLook, standOf, type PlaceOfLook, type Stack, type Stand } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { smallPictures } from '../engine/preview';
import { useSmallPictures } from '../engine/small';
import { gamutOf } from '../state/wide';
import { inForce, useBench } from '../state/bench';
import { server } from '../state/server';

const known = new WeakMap<ImageData, Stand>();

/** Where a picture stands, worked out once. */
function standing(image: ImageData): Stand {
  const stand = known.get(image) ?? standOf({ width: image.width, height: image.height, data: image.data, colorSpace: gamutOf(image) });
  known.set(image, stand);
  return stand;
}

/** Where the picture on the bench stands that a look is put on, if that is wanted; undefined until it is known. */
export function useStand(where: PlaceOfLook, wanted: boolean): Stand | undefined {
  const history = useBench((bench) => bench.history);
  const beneath = beneathLook(inForce(history), where);
  const [image] = useSmallPictures(wanted ? JSON.stringify([beneath.layers, beneath.geometry, beneath.development]) : 'none', () =>
    wanted ? [beneath] : [],
  );
  return wanted && image ? standing(image) : undefined;
}

/** Where the picture on the bench stood before the first of some layers. */
export const standBefore = (stack: Stack, layers: ReadonlySet<string>): Promise<Stand> =>
  new Promise((resolve) => {
    const first = stack.layers.findIndex((layer) => layers.has(layer.id) || layer.layers?.some(({ id }) => layers.has(id)));
    const beneath = { ...stack, master: 1, layers: stack.layers.slice(0, Math.max(0, first)) };
    smallPictures([{ stack: beneath }], (_, image) => resolve(standing(image)));
  });

/** Where a picture of any photo stands. Throws where the server is away. */
export async function standOn(photo: Photo, stack: Stack): Promise<Stand> {
  const where = await server.picture(photo.id, stack, new AbortController().signal);
  const picture = Object.assign(new Image(), { src: where });
  await picture.decode().finally(() => URL.revokeObjectURL(where));
  const canvas = new OffscreenCanvas(picture.width, picture.height);
  const context = canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
  context.drawImage(picture, 0, 0);
  return standing(context.getImageData(0, 0, picture.width, picture.height));
}
