/**
 * What the page, the server and the command line share. What only some of them run is named by its own path, so that the page does not bring it along: the engine (`@bexlen/core/engine`),
 * readers of XML (`formats/xml`, `formats/read-cdl`).
 */
export { BexlenError, type FaultCode } from './errors';
export { clamp, unit } from './clamp';
export { isToldIn, toldIn, type ToldLanguage } from './words';
export { definitions, eachSaid, localise } from './words/localise';
export { echoed, fitName, keptText, refusalOf } from './refusals';
export { kindTable } from './kinds/table';
export { modeFamilies, modeOf, modes, type ModeId } from './blend';
export { kinds, kindOf, revisionOf, families, levelPlaces, levelsPlaced } from './kinds';
export type { Board, Family, Five, Kind, KindId } from './kinds';
export * from './params';
export { curveFunction, isLevel, MAX_NODES, NODE_GAP, type Curve, type Node } from './pixels/curve';
export { openGate, type GateSide } from './masks/gate';
export { asShot, developmentParams, greyAt, type Development } from './kinds/development';
export type { Gamut } from './pixels/gamut';
export { pressed, shownAsShot } from './pixels/roll-off';
export { decode, encode, hexOf } from './pixels/colour';
export { around, bytesPerPixel, fitted, longEdge, type Layout, type Rect, type Size } from './pixels/picture';
export {
  asItCame,
  geometryParams,
  isAsItCame,
  MOST_ANGLE,
  neededOf,
  pictureSize,
  turned,
  wholeCrop,
  type Crop,
  type Geometry,
} from './geometry/geometry';
export * from './geometry/crop';
export { copies, filmPlaceOf, isPicture, placesOf, shapeOf, PROXY_EDGE, type Patch, type Shape, type PhotoProxy } from './geometry/shape';
export { inverse, mapped, type Matrix } from './geometry/matrix';
export { proxyOf } from './formats/proxy';
export { MOST_CUBE_TEXT, readCube, writeCube } from './formats/cube';
export * from './resources';
export { PAM_TYPE, readPam, writePam } from './formats/pam';
export { histogramOf, regionAt, regions, type Histogram } from './measure/histogram';
export { clipped, outsideSrgb, zoned, zoneLevel, zoneNames } from './measure/zones';
export { factsOf, type Facts } from './measure/facts';
export { isWashed, washOf } from './measure/wash';
export { spotAt } from './measure/spot';
export type { Bytes } from './measure/bytes';
export {
  folderOfLook,
  LONGEST_LOOK,
  lookFile,
  lookFolder,
  lookName,
  lookNote,
  lookOf,
  lookSays,
  readLook,
  type Look,
  type LookFault,
} from './looks/look';
export { fitNotes, needsOf } from './looks/fit';
export { fitWords, isFit, USUAL } from './looks/fitting';
export { standOf, type Stand } from './looks/stand';
export { beginning, buildingOf, onItsWay, withoutMissing, type Building } from './looks/building';
export { beneathLook, placesOfLooks, putOn, type PlaceOfLook } from './looks/putting';
export { takeLook, type Taking } from './looks/taking';
export * from './stack';
export { emptyMask, joins, isEffective, joinParams, maskParams, MOST_PARTS, newPart, type Join, type Mask, type Part } from './masks/mask';
export { partKindOf, partKinds, type PartId } from './masks/parts';
export { cornersOf, isConvex, type Corners, type Placing } from './picture/placing';
export { MOST_FOCUSES, newFocus } from './focus/focus';
export { focusShapeOf, focusShapes, type FocusShapeId } from './focus/shapes';
export { latticePicture, leftWords, tableFrom, tableOf, TABLE_SIZES, type TableSize } from './formats/table';
export { correctionsOf, cutsBetween, gradeOf, writeCc, writeCcc, type Correction } from './formats/cdl';
export { checkName, fileName, nameWords, plainName, usualName, type Named } from './formats/names';
