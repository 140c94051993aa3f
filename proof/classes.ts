/**
 * `npm run classes -- [--json]`: for every class of Tailwind CSS's own class list, asks for just the declarations that it
 * gives, on an element without it, and looks whether that class or a shorter equal one is written. Prints the share and the
 * rest. Exits 1 under 99%.
 */
import { planClasses, type Tailwind, type UtilityClass } from '../src/core/utility'
import { flag } from './options'
import { tailwindOf } from './tailwind-files'

/** Two classes are equal when all they declare is, in normal form. */
const told = (v: Tailwind, c: UtilityClass): string =>
  JSON.stringify([[...v.effect(c)].sort(), c.declared.filter((d) => d.on !== '').length])

interface Miss {
  readonly name: string
  readonly got: string
}

const system = await tailwindOf('@import "tailwindcss";')
const names = system.listed
const missed: Miss[] = []
let gestures = 0
for (const name of names) {
  const c = system.read(name)!
  // As Tune asks: property by property. What a class sets on other elements or in variables alone is asked for whole.
  const own = c.declared.filter((d) => d.on === '' && !d.name.startsWith('--'))
  const whole = own.length === 0 || own.length < c.declared.filter((d) => !d.name.startsWith('--')).length
  let added: readonly string[]
  if (whole) added = system.giving(system.effect(c)).slice(0, 1)
  else {
    gestures++
    const wishes = [...new Map(own.map((d) => [d.name, d.value]))].map(([property, value]) => ({
      property,
      value: value.includes('var(--tw') ? (system.whole(c, property) ?? value) : value,
    }))
    const plan = planClasses(system, '', '', false, wishes)
    added = plan.ok ? plan.added : [plan.why]
  }
  const got = added.length === 1 ? system.read(added[0]) : null
  if (!(got && (got.name === name || (told(system, got) === told(system, c) && got.name.length <= name.length))))
    missed.push({ name, got: added.join(' ') })
}
const share = (names.length - missed.length) / names.length
if (flag('json')) console.log(JSON.stringify({ classes: names.length, gestures, share, missed }))
else {
  for (const m of missed) console.log(`${m.name}: ${m.got || 'nothing'}`)
  console.log(
    `${names.length} classes, ${gestures} of them asked for by property: ${(share * 100).toFixed(2)}% written as themselves or a shorter equal`,
  )
}
process.exitCode = share >= 0.99 ? 0 : 1
