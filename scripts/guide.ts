/** The photographer's guide: how layers, masks, gates and looks play together, then each lesson with its steps. */
import type { Look } from '../core/src/index';

const BEFORE = `# A photographer's guide

Made from the lessons in \`app/src/lessons/ours\`: \`npm run docs\` writes it anew.

Bexlen works like a mixing desk for light. The photo comes in on one side, passes through channels one after another, and leaves finished on the other. The original file is never touched; everything you do is a step that can be undone, also next week.

## The bench

![The desk below the photo](screenshots/desk-phone.png)

Each channel is a **layer**: one treatment with a fader for its strength, a switch, and a solo button that shows it alone. The light passes them from top to bottom. The order matters: grain under a blur is blurred, grain over it is not.

**Plus** opens the rack, where every kind of layer is shown on your own photo. A tap adds it and opens its channel, which answers three questions:

- **What** it does: its controls, the important ones first. Tap a figure to type it, double tap a fader to put it back.
- **Where** it does it: a mask, made of parts. An oval for a face, a band for a strip of light, a ramp for a sky, a brush for everything else; tones, colours and edges find their places by themselves. Parts are added, taken away, or kept within each other.
- **How** it is mixed in: blend modes, each shown on your photo, and what the layer reads.

![A mask on the photo](screenshots/mask-phone.png)

Under Where there is also the **gate**: two curves that let a layer in by tone. One asks how bright the layer itself is, the other how bright the picture beneath it is. A gate that closes towards white saves skies and shirts from anything; one that closes towards black keeps noise out of a glow.

Hold the photo to see the original. Hold an icon to read its name.

## Looks

![A look on a photo](screenshots/looks-phone.png)

A **look** is a stack without a photo. Under **Looks** each is shown on yours; tap one, set its strength, and put it over, under or in place of what is there. **Fit** first brings your photo to where the look was made: exposure, the ends of the tones, the colour of the light. It stands in the stack as a channel of its own, with a fader and a switch. On a selection each photo gets its own Fit.

**Take** makes a look of your own from the channels you choose. It remembers where your photo stood, so that Fit works for others too.

Any look can be **built step by step** on your photo (More, then _Build it step by step_): each step says why it is taken, opens its channel and moves its faders while you watch. Take it, change it, or leave it out.

## Sending it on

**Export** makes the finished file: JPEG for most purposes, TIFF with 16 bits for printing elsewhere. On a phone, _Make and share_ does both in one tap. Files stand under Exports until you remove them.

## Lessons

Under Looks, and on an empty bench. Each is built on the photo that is open.

![A step of a lesson](screenshots/lesson-phone.png)
`;

/** The page. @param lessons in their order. */
export const guidePage = (lessons: readonly Look[]): string =>
  [
    BEFORE,
    ...lessons.map(
      ({ name, note, says = [], stack }) =>
        `### ${name}\n\n${note}\n\n${stack.layers.map((layer, i) => `${i + 1}. **${layer.name}.** ${says[i]}`).join('\n')}\n`,
    ),
  ].join('\n');
