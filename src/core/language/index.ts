export {
  attribute,
  classesOf,
  type Applied,
  type AppliedForNow,
  type ElementTree,
  type ListText,
  type Place,
  type SheetPart,
  type SourceAttribute,
  type SourceElement,
  type SourceFile,
  type SourceLanguage,
  type SourceText,
  type TrialTree,
} from './language'
export type { ComponentProperty, GivenProperty } from '../jsx'
export { languageNameOf, roleOf, type LanguageName, type Role } from './roles'
export { languageOf, loadLanguages } from './table'
export { lineInSheet } from './css-language'
