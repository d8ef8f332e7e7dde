// The shared types and their meaning
export { GROUP_KINDS, type CastPart, type CastSheet, type GroupKind } from './model/CastSheet.ts';
export {
  DEFAULT_CHECK_RULES,
  FINDING_KINDS,
  type CheckRules,
  type Finding,
  type FindingKind,
  DEFAULT_JOB_CHECKS,
  KIND_WORDS,
  keyOfFinding,
  SEVERITIES,
  severityOf,
  type Certificate,
  type JobChecks,
  type Severity,
  type Waiver,
} from './model/Finding.ts';
export { HALF, type CheckedFlats } from './check/FlatsColours.ts';
export { FlatsBuilder, type FlatsPicture } from './check/FlatsBuilder.ts';
export { findInkLimit } from './check/findInkLimit.ts';
export { wholeFileFindings, type FlatsFile } from './check/wholeFileFindings.ts';
export { checkRulesOfFile } from './model/checkFinding.ts';
export { checkPage, type FaintLine, type PageCheckInput } from './check/checkPage.ts';
export { EMPTY_PIXEL, PAINTED_PIXEL, renderPage, type RenderedPage } from './handoff/renderPage.ts';
export { gapsToRule } from './gaps/cells/gapsToRule.ts';
export { hatchingPercent } from './gaps/hatching/hatchingPercent.ts';
export { diffLayers, type DiffLayer, type LayerDiff } from './check/diffLayers.ts';
export { compareReturned, MOVED_TO_NONE, type ReturnedChanges, type SentFlats } from './check/compareReturned.ts';
export { paintOnTiles } from './corrections/paintOnTiles.ts';
export { checkFlats, type CheckInput } from './check/checkFlats.ts';
export type { Point } from './model/Point.ts';
export {
  DEFAULT_HOLD_LIMITS,
  type HoldColour,
  type HoldLimits,
  type HoldRule,
  type LineEdits,
  type LineStroke,
  type LineSelect,
  MAX_AROUND_PX,
  MOST_LINE_POINTS,
} from './model/Holds.ts';
export { holdWordAt } from './holds/HoldPaint.ts';
export { LineBrush } from './holds/LineBrush.ts';
export { holdRuleOfFile } from './model/checkHolds.ts';
export { contentOfPage } from './page/contentOfPage.ts';
export { type CorrectionTile, MOST_PEN_PX, packTile, TILE_AREA, TILE_PX } from './model/CorrectionTile.ts';
export {
  DEFAULT_PREP,
  type Fill,
  type FillLook,
  type InkFile,
  MAIN_INK,
  type Mark,
  NO_GAPS_PREP,
  type PageDocument,
  type PagePanel,
  type Prep,
} from './model/PageDocument.ts';
export type { Closure } from './model/Regions.ts';
export type { Ruling } from './model/Ruling.ts';
export type { Survey } from './model/Survey.ts';
export {
  DEFAULT_JOB_TRAP,
  type JobTrap,
  MAX_TRAP_DEPTH_MM,
  MAX_TRAP_DEPTH_PX,
  MAX_UNDERLAP_PX,
  type SolidTrap,
  type TrapArea,
  type TrapDepth,
  type TrapRule,
} from './model/Trap.ts';
export { sameRule } from './model/checkTrap.ts';
export type { Json, RecordEdit, Records } from './model/records.ts';

// Rasters
export { type GreyRaster, MAX_FILE_BYTES, MAX_PAGE_PIXELS, MAX_PAGE_SIDE } from './raster/GreyRaster.ts';
export { greyFromRgba } from './raster/greyFromRgba.ts';
export { LARGE_PAGE_PX, halveGrey } from './raster/halveGrey.ts';
export { MAX_DPI, MIN_DPI } from './raster/resolution.ts';

// Colour
export { ciede2000 } from './colour/ciede2000.ts';
export { colourName } from './colour/colourName.ts';
export { formatColour, parseColour, rgbaWord } from './colour/hex.ts';
export { labOf } from './colour/lab.ts';
export { scratchColours } from './colour/scratchColours.ts';

// Line art: ink, panels, balloons
export { MOST_SPECK_PX2 } from './ink/clearSpecks.ts';
export { measurePaper } from './ink/flattenPaper.ts';
export { greyAround } from './ink/greyAround.ts';
export { inkFromGrey } from './ink/inkFromGrey.ts';
export { STEPS_PER_PX } from './ink/lineWidths.ts';
export { lineWidthAt, paperDistance2 } from './ink/measureInkAt.ts';
export { type Skew, measureSkew } from './ink/measureSkew.ts';
export { degreesOfSlope } from './ink/straighten.ts';
export { type Panel, boxOf, contains, panelOfPoints } from './layout/Panel.ts';
export { findPanels } from './layout/findPanels.ts';
export { scenesOfPage } from './layout/scenesOfPage.ts';
export {
  type JudgedPanel,
  type LineArtFacts,
  type MeasuringStep,
  describeLineArt,
  measureLineArt,
} from './lineart/describeLineArt.ts';
export { type Change, findChanges } from './lineart/findChanges.ts';
export { type Verdict, endsPerThousand } from './lineart/judgePanel.ts';

// Gaps: skeletons, cuts, leaks
export { BOUNDS_FROM, SURE_FROM } from './gaps/cells/rateOpening.ts';
export { MOST_ENDS, coarsePaper } from './gaps/findCuts.ts';
export { type Flood, UNREACHED, floodFrom } from './gaps/leak/floodFrom.ts';
export { simplifyLine } from './raster/simplifyLine.ts';
export { type LeakTrace, snapToInk, traceLeak } from './gaps/leak/traceLeak.ts';
export { cubicOfCut, pointOfCut } from './gaps/proposals/cutCurve.ts';
export { cutOfKey, keyOfCut, outlinesAcross } from './gaps/proposals/handCut.ts';

// Regions and the page as it is read
export { findTouching, touchingParts } from './regions/findTouching.ts';
export type { OpenSurvey } from './survey/OpenSurvey.ts';
export { labelRaster } from './survey/labelRaster.ts';
export { neighbourRegions } from './survey/neighbourRegions.ts';
export { type OtherInk, readInk } from './survey/readInk.ts';
export { type PixelBox, joinBoxes } from './survey/recutPage.ts';
export { CUTS_VERSION, type StoredCuts, packCuts, readingCacheKey, unpackCuts } from './survey/storedCuts.ts';
export { type SurveyStep, autoMaxGap, foundInFull, openSurvey, surveyPage } from './survey/surveyPage.ts';
export { ruleSurvey, type WorkingPage } from './survey/WorkingPage.ts';

// The page document and its edits
export { checkPageEdit, MOST_PAGE_NOTES } from './page/checkPageEdit.ts';
export { anyJson, checkRecord, fields, integer, list, textFrom } from './model/checkRecord.ts';
export { cleanName, cleanText, isPlainText } from './page/plainText.ts';
export { stampAfter } from './page/stampAfter.ts';
export { readHistory } from './page/history.ts';
export {
  editBalloon,
  editDrawn,
  editFill,
  editInkFile,
  editGuide,
  editMark,
  editPanels,
  editPrep,
  editRuling,
  editScene,
  editSeen,
  editSolid,
  editArea,
  editHold,
  editCertificate,
  editTile,
  editLineStroke,
  editWaiver,
  editLineCut,
  editLineJoin,
  editTrap,
} from './page/pageEdits.ts';
export { ownSolids, readPageDocument, scenesShown } from './page/readPageDocument.ts';
export { applyEdits, clashingKeys, parseRecords, serialiseRecords } from './page/records.ts';
export { straightenDocument } from './page/straightenDocument.ts';

// The cast sheet
export { checkCastEdit } from './cast/checkCastEdit.ts';
export {
  MAX_COLOURS,
  MAX_GROUPS,
  MAX_PARTS,
  MAX_DELIVERIES,
  MAX_SCENES,
  UNSET_COLOUR,
  colourOfPart,
  copyPart,
  dropPart,
  dropScene,
  editCastScene,
  editColour,
  editGroup,
  editHoldLimits,
  editDelivery,
  editJobChecks,
  editJobTrap,
  kindOfGroup,
  editPalette,
  editPart,
  editScratch,
  markingsOn,
  mergeParts,
  nearColours,
  partFinder,
  readCastSheet,
} from './cast/CastSheet.ts';
export { CastFileError, type CastLine, importCast } from './cast/importCast.ts';

// Flats: fills, loops, marks, the pen
export {
  type Corrections,
  type TileRaster,
  correctionAt,
  paintTiles,
  readCorrections,
  regionUnder,
} from './corrections/Corrections.ts';
export { StrokeDraft } from './corrections/StrokeDraft.ts';
export { assignRegions, regionAt } from './fills/assignRegions.ts';
export { fillsAcrossClosures, fillsAfterDivision } from './fills/fillsAfterDivision.ts';
export { fillsWith } from './fills/fillsWith.ts';
export { findIslands } from './fills/findIslands.ts';
export { type CellGroups, groupsInLoop } from './fills/groupsInLoop.ts';
export { looseSpread } from './fills/looseSpread.ts';
export { regionsLike } from './fills/regionsLike.ts';
export { type ResolvedFills, resolveFills } from './fills/resolveFills.ts';
export { resolvePage } from './fills/resolvePage.ts';
export {
  type Silhouette,
  cellsInContour,
  cellsOf,
  contourGroups,
  regionsOfCells,
  silhouetteInLoop,
} from './fills/silhouetteInLoop.ts';
export { editsOfSpread, solveMarks } from './fills/solveMarks.ts';
export { DEFAULT_SPREAD, type SpreadOptions, marksPaper } from './fills/spreadMarks.ts';

// The colour guide
export {
  GUIDE_FEATURES,
  type GuidePart,
  type GuideProposal,
  type GuideReadingSoFar,
  guideEvidence,
  proposeFromGuide,
  readGuideInTurns,
} from './guide/proposeFromGuide.ts';
export { type GuideMatch, type GuidePlace, type GuideRaster, registerGuide } from './guide/register/registerGuide.ts';
export { type GuideSplit, splitByGuide } from './guide/splitByGuide.ts';

// Proposals from done pages
export { type RegionTraits, describeRegions } from './examples/describeRegions.ts';
export {
  EXAMPLE_WEIGHTS,
  type ExamplePage,
  type ExampleProposal,
  type ExampleWeights,
  proposeFromExamples,
  voteFromExamples,
} from './examples/proposeFromExamples.ts';

// Trap and the picture
export { type PyramidLevel, buildPyramid, refreshPyramid } from './compose/buildPyramid.ts';
export { CURRENT, type CellPaint, HOVERED, MISSING, PAPER_WORD, type Viewport, compose } from './compose/compose.ts';
export { darken, layOver } from './compose/layOver.ts';
export { paintOfRegions } from './compose/paintOfRegions.ts';
export { doubleParts } from './trap/doubleParts.ts';
export { type TrapFault, type TrapFaultKind, findTrapFaults } from './trap/findTrapFaults.ts';
export { findTrapInk } from './trap/findTrapInk.ts';
export { type RegionTrap, middleTrap, sameTrap, trapOfRegions, uniformTrap } from './trap/RegionTrap.ts';
export { type PartRaster, renderParts } from './trap/renderParts.ts';
export { NO_TRAP_INK, type TrapInk, type TrapTable, compileTrap } from './trap/TrapTable.ts';
export { reachAt } from './trap/reachAt.ts';
export { depthInPx } from './trap/depthInPx.ts';
export { DEPTH_TONES } from './compose/trapMap.ts';
export { widestLine } from './trap/widestLine.ts';
export { underlapLayer } from './trap/underlap.ts';

// Colour holds
export { findLinePieces } from './holds/findLinePieces.ts';
export { type GroupOfLines, holdInputOf } from './holds/holdInputOf.ts';
export { holdsInOrder, withPartsOf } from './holds/holdsInOrder.ts';
export type { HoldPaint } from './holds/HoldPaint.ts';
export { holdRgba, lineRgba } from './holds/holdRaster.ts';
export type { LinePieces } from './holds/LinePieces.ts';
export type { FlatsAround } from './holds/meanAround.ts';
export { type LowContrast, findLowContrast, measureContrast } from './holds/measureContrast.ts';
export { type HoldInput, type PaintedHolds, paintHolds } from './holds/paintHolds.ts';
export { type PieceSides, findPieceSides, partsOnSides } from './holds/PieceSides.ts';
export {
  type LineKind,
  type PartsOfLines,
  type PieceParts,
  kindOfPiece,
  pieceNear,
  piecesWithin,
  selectLines,
} from './holds/selectLines.ts';

// Hand off
export { type PlannedGroup, planParts, stackedGroups, stackedParts } from './handoff/planLayers.ts';
export {
  canRunUnder,
  DELIVERY_AREAS,
  DELIVERY_FORMATS,
  FILE_ENDINGS,
  FILE_WORDS,
  FIRST_DELIVERIES,
  hasCmyk,
  hasLayers,
  LAYER_SPLITS,
  LAYER_WORDS,
  NEW_DELIVERY,
  TELLING_FILE_WORDS,
  TELLING_LAYER_WORDS,
  type DeliveryArea,
  type DeliveryFormat,
  type DeliveryRule,
  type LayerSplit,
} from './model/Delivery.ts';
export { LEAST_DELIVERY_DPI, MOST_DELIVERY_DPI, MOST_PATTERN } from './cast/checkDelivery.ts';
export { fillPattern, patternProblem } from './model/fillPattern.ts';
export { nameApart, plainFileName } from './handoff/plainFileName.ts';
export { pageFileName, type NamedPage } from './handoff/pageFileName.ts';
export { outputGrid, sampleInk, sampleParts, sampleWords, type OutputGrid } from './handoff/OutputGrid.ts';
export { trimBoxes, type TrimSize } from './page/trimBoxes.ts';

// The desk
export {
  EFFORT_TERMS,
  fitEffort,
  type EffortEstimate,
  type EffortTerm,
  type PageMeasures,
} from './desk/estimateEffort.ts';
export {
  DEFAULT_CALENDAR,
  forecast,
  workingDaysBefore,
  workingDaysFrom,
  type Forecast,
  type WorkCalendar,
} from './desk/forecast.ts';
