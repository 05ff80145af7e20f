export { BexlenError, type FaultCode } from './errors';
export { modeFamilies, modeOf, modes, type Mode, type ModeId } from './blend';
export { kinds, kindOf, families, figure, parseFigure, toFader, fromFader, stepped, defaults } from './kinds';
export type { Family, Kind, KindId, NumberParam, Params, Unit, Values } from './kinds';
export { curveFunction, curveSchema, isLevel, level, MAX_NODES, NODE_GAP, type Curve, type Node } from './masks/curve';
export { openGate, type Gate, type GateSide } from './masks/gate';
export { byteLength, bytesPerPixel, fitted, longEdge, type Layout } from './pixels/picture';
export { instantiate, newMemory, type Kernels } from './pixels/kernels';
export { PAM_TYPE, readPam, writePam } from './formats/pam';
export * from './stack/edit';
export {
  emptyStack,
  layerSchema,
  MASTER_MAX,
  MAX_LAYERS,
  MAX_NESTING,
  readStack,
  stackSchema,
  type Group,
  type KindLayer,
  type Layer,
  type Stack,
} from './stack/schema';
export { Engine, type Order, type Rendered, type Tones } from './stack/engine';
export { startHand, type FromHand, type Slot, type ToHand, type Wire } from './stack/hand';
export { control } from './stack/crew';
export type { StoreFormat } from './stack/plan';
