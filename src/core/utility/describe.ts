import { shortColor } from './normal'
import type { UtilityClass, Vocabulary } from './types'

/** What a class does, for a list of classes. */
export interface ClassTold {
  /** In words: `padding 16px`; `''` where it sets nothing that can be determined shortly. */
  readonly sets: string
  /** A colour it gives, as CSS; null where it gives none. */
  readonly color: string | null
  /** A length it gives, in px. */
  readonly px: number | null
}

const SIDES = /-(top|right|bottom|left)(?=-|$)/

/** A class in a few words, with a sample of its colour or length. */
export function tellClass(v: Vocabulary, c: UtilityClass): ClassTold {
  const effect = [...v.effect(c)].map(([longhand, value]) => ({
    name: longhand.slice(longhand.lastIndexOf('|') + 1),
    on: longhand.includes('|'),
    value,
  }))
  // Four sides of one value are one thing to say.
  const said = new Map<string, { value: string; sides: string[]; on: boolean }>()
  for (const { name, value, on } of effect) {
    const corner = /^border-(\w+-\w+)-radius$/.exec(name)?.[1]
    const side = corner ?? SIDES.exec(name)?.[1]
    const key = `${corner ? 'border-radius' : name.replace(SIDES, '')} ${value}`
    const there = said.get(key)
    if (there) there.sides.push(side ?? '')
    else said.set(key, { value, sides: side ? [side] : [], on })
  }
  const words = [...said].map(([key, { value, sides, on }]) => {
    const name = key.slice(0, key.length - value.length - 1).replace(/^--tw-/, '')
    const which =
      sides.length === 0 || sides.length === 4
        ? ''
        : sides.length === 2 && sides.includes('left') && sides.includes('right')
          ? ' across'
          : sides.length === 2 && sides.includes('top') && sides.includes('bottom')
            ? ' up and down'
            : ` ${sides.join(' and ')}`
    return `${on ? 'inside it: ' : ''}${name}${which} ${value.replace(/rgb\([^()]*\)/g, (color) => shortColor(color))}`
  })
  const colors = effect.map((e) => /rgb\([^()]*\)/.exec(e.value)?.[0]).filter((x) => x !== undefined)
  const px = effect.flatMap((e) => {
    const n = /^(-?[\d.]+)px$/.exec(e.value) ?? /^(0)$/.exec(e.value)
    return n ? [Number(n[1])] : []
  })
  return {
    sets: words.join(', '),
    color: colors[0] ?? null,
    px: px.length === effect.length && px.length > 0 ? px[0] : null,
  }
}
