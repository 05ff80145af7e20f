export { BexlenError, type FaultCode } from './errors';
export { echoed, fitName, keptText, refusalOf } from './refusals';
export { kindTable } from './kinds/table';
export { modeFamilies, modeOf, modes, type Mode, type ModeId } from './blend';
export { kinds, kindOf, revisionOf, families, levelPlaces, levelsPlaced, placingOf } from './kinds';
export type { Board, Family, Five, Kind, KindId } from './kinds';
export * from './params';
export { curveFunction, curveSchema, isLevel, level, MAX_NODES, NODE_GAP, type Curve, type Node } from './pixels/curve';
export { openGate, type Gate, type GateSide } from './masks/gate';
export { decode, encode, hexOf } from './pixels/colour';
export { around, byteLength, bytesPerPixel, fitted, longEdge, type Layout, type Rect, type Size } from './pixels/picture';
export { instantiate, newMemory, type Kernels } from './pixels/kernels';
export { asItCame, isAsItCame, MOST_ANGLE, neededOf, pictureSize, toPhoto, turned, wholeCrop, type Crop, type Geometry } from './geometry/geometry';
export * from './geometry/crop';
export {
  copies,
  filmPlaceOf,
  isPicture,
  placesOf,
  shapeOf,
  PROXY_EDGE,
  type FilmPlace,
  type Patch,
  type Shape,
  type PhotoProxy,
} from './geometry/shape';
export { inverse, inTurn, mapped, moveBy, scaleBy, type Matrix } from './geometry/matrix';
export { proxyOf } from './formats/proxy';
export { MOST_CUBE_TEXT, readCube, writeCube } from './formats/cube';
export * from './resources';
export { PAM_TYPE, readPam, writePam } from './formats/pam';
export { histogramOf, regionAt, regions, type Histogram } from './measure/histogram';
export { clipped, zoned, zoneLevel, zoneNames } from './measure/zones';
export { factNames, factsOf, type FactName, type Facts } from './measure/facts';
export { isWashed, washOf, type Wash } from './measure/wash';
export { spotAt, spotOf, type Spot } from './measure/spot';
export type { Bytes } from './measure/bytes';
export {
  folderOfLook,
  LONGEST_LOOK,
  lookFile,
  lookFolder,
  lookName,
  lookNote,
  lookOf,
  lookSchema,
  readLook,
  type Look,
  type LookFault,
} from './looks/look';
export { fitNotes, needsOf, type FitRule } from './looks/fit';
export { placesOfLooks, putOn, type PlaceOfLook, type Putting } from './looks/putting';
export { takeLook, type Taking } from './looks/taking';
export * from './stack';
export * from './engine';
export { emptyMask, joins, isEffective, MOST_PARTS, MOST_SOFTENING, newPart, type Join, type Mask, type Part } from './masks/mask';
export { isPart, partKindOf, partKinds, type PartId } from './masks/parts';
export { cornersOf, isConvex, toCorners, type Corners, type Placing } from './picture/placing';
export { MOST_FOCUSES, newFocus } from './focus/focus';
export { focusShapeOf, focusShapes, type FocusShapeId } from './focus/shapes';
export type { PartKind, Pick } from './masks/part';
export { latticePicture, leftWords, tableFrom, tableOf, TABLE_SIZES, type Tabled, type TableSize } from './formats/table';
export { correctionOf, correctionsOf, cutsBetween, gradeOf, plainCorrection, readCdl, writeCc, writeCcc, type Correction } from './formats/cdl';
export { readXml } from './formats/xml';
export { checkName, fileName, nameWords, plainName, usualName, type NameWord } from './formats/names';
