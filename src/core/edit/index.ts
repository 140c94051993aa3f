export {
  areaName,
  areaRows,
  blockOutIntent,
  classForLayout,
  overlap,
  REGION_TAGS,
  whyNotDrawn,
  type BlockOut,
  type Cells,
  type Region,
  type RegionTag,
  oneBelowAnother,
} from './block-out'
export type {
  AddFaceIntent,
  AddRuleIntent,
  AttributeIntent,
  ClassesIntent,
  DeclarationIntent,
  FaceFile,
  ElementsIntent,
  FileSplices,
  InsertIntent,
  Intent,
  MoveIntent,
  SourcePlace,
  WrapIntent,
  MakeTokenIntent,
  NewFile,
  PlannedEdit,
  PreviewPlan,
  RenameClassIntent,
  RenameTokenIntent,
  RestoreIntent,
  RuleAim,
  SelectorIntent,
  SetIntent,
  TagIntent,
  TextIntent,
  TogetherIntent,
} from './intent'
export { headIntent, readHead, type Head, type HeadField, type HeadPart } from './head'
export { applicable, fits, Journal, type FileChange, type JournalEdit, type Verdict } from './journal'
export { planIntent } from './plan'
export { htmlOf, nameOf, tellDrop, tellInsert } from './plan-structure'
export { backTo, commonStart, withoutEdits, type Without } from './history'
export { changedRules } from './changed-css'
export { HAND_OFF_SCHEMA, handOffText, type HandOff, type HandOffEdit, type Wish } from './hand-off'
