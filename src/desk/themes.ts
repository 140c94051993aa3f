import { declarationsOf, Sheet, textOf } from '../core/css'
import type { Intent } from '../core/edit'
import {
  firstOf,
  fromDesignTokens,
  mainPlace,
  pulledRamp,
  readTheme,
  takingIntent,
  takingOf,
  toCss,
  toDesignTokens,
  type Given,
  type RampPull,
  type Theme,
  type ThemeToken,
} from '../core/theme'
import type { OpenProject } from './open-project'

/** What of a file's tokens would be written: each with what is there now, and where. */
export interface TokensToTake {
  readonly changed: readonly {
    readonly name: string
    readonly before: string
    readonly after: string
    readonly path: string
    readonly line: number
  }[]
  readonly fresh: readonly { readonly name: string; readonly value: string }[]
  /** How many say the same already. */
  readonly same: number
  /** What could not be read, in words. */
  readonly faults: readonly string[]
  readonly intent: Intent | null
}

/** The project's tokens: what they are, and how they leave and come in. */
export class Themes {
  private looks = 0

  constructor(private readonly current: OpenProject) {}

  /** The tokens; null where they were asked for again meanwhile. */
  async read(): Promise<Theme | null> {
    const look = ++this.looks
    const { project } = this.current
    return readTheme(project, async () => {
      // What the interface asks of the desk meanwhile goes first.
      await new Promise((go) => setTimeout(go))
      return look === this.looks && project === this.current.project
    })
  }

  /** The tokens as files: in the Design Tokens Community Group's format, with those that it has no form for, and as CSS. */
  async out(): Promise<{ readonly json: string; readonly left: readonly string[]; readonly css: string } | null> {
    const theme = await this.read()
    return theme && { ...toDesignTokens(theme), css: toCss(theme) }
  }

  /** What pulls the steps of a ramp as one; null where none would be another. */
  async pulled(steps: readonly ThemeToken[], by: RampPull): Promise<Intent | null> {
    const intents = pulledRamp(steps, by).flatMap(({ name, value }): Intent[] => {
      const place = mainPlace(steps.find((s) => s.name === name)!.places)
      return place ? [{ kind: 'set', aim: { kind: 'rule', sheet: place.sheet, rule: place.rule }, name, value }] : []
    })
    return intents.length ? { kind: 'together', intents, label: `${intents.length} steps` } : null
  }

  /** What of a file's tokens would be written, in that format or as CSS. */
  async taking(text: string): Promise<TokensToTake | null> {
    const theme = await this.read()
    if (!theme) return null
    const { tokens, faults } = /^\s*[[{"]/.test(text) ? fromDesignTokens(text) : fromCss(text)
    const taking = takingOf(theme, tokens)
    const intent = takingIntent(theme, taking)
    return {
      changed: taking.changed.map(({ token, value }) => {
        const { path, line } = mainPlace(token.places)!
        return { name: token.name, before: token.value, after: value, path, line }
      }),
      fresh: taking.fresh,
      same: taking.same,
      faults: taking.fresh.length && !intent ? [...faults, 'The project has no tokens that new ones could stand beside.'] : faults,
      intent,
    }
  }
}

// The custom properties that a text of CSS defines, whatever their rules; under a condition they are other values of the same.
function fromCss(text: string): Given {
  const tokens = [...new Sheet(text).rules()].flatMap((site) =>
    site.parents.some((p) => p.kind === 'at' && p.name !== 'layer')
      ? []
      : declarationsOf(site.rule).flatMap((d) => (d.name.startsWith('--') ? [{ name: d.name, value: textOf(site, d.value) }] : [])),
  )
  return firstOf(tokens, [])
}
