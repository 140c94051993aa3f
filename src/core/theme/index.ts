export {
  mainPlace,
  readTheme,
  resolved,
  type ColorPair,
  type Ramp,
  type Theme,
  type ThemeToken,
  type TokenKind,
  type TokenPlace,
} from './read-theme'
export {
  firstOf,
  fromDesignTokens,
  takingIntent,
  takingOf,
  toCss,
  toDesignTokens,
  type Given,
  type GivenToken,
  type Taking,
} from './design-tokens'
export { pulledRamp, type RampPull } from './ramp'
