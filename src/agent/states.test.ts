import { expect, test } from 'vitest'
import { force, inAnyState } from './states'

test.each([
  ['a:hover', ['hover'], 'a:is(:hover, [data-steady-state~="hover"])'],
  ['.x:focus-within .y:focus', ['focus'], '.x:focus-within .y:is(:focus, [data-steady-state~="focus"])'],
  ['a:not(:hover)', ['hover'], 'a:not(:is(:hover, [data-steady-state~="hover"]))'],
  ['[title=":hover"]:active', ['hover'], '[title=":hover"]:active'],
  ['&:Hover > b', ['hover'], '&:is(:Hover, [data-steady-state~="hover"]) > b'],
  ['a:hover-card', ['hover'], 'a:hover-card'],
  [String.raw`.md\:hover\:p-4:hover`, ['hover'], String.raw`.md\:hover\:p-4:is(:hover, [data-steady-state~="hover"])`],
])('%s with %j held reads %s', (selector, names, out) => expect(force(selector, new Set(names))).toBe(out))

test.each([
  ['a:hover::before', 'a:where(*):where(*)'],
  [':focus-visible', ':where(*)'],
  ['button:not(:disabled):hover', 'button:where(*):where(*)'],
  ['[data-x="a:hover"] b:first-child', '[data-x="a:hover"] b:first-child'],
  ['li:before', 'li:where(*)'],
  [String.raw`.sm\:focus\:before\:p-2:focus::before`, String.raw`.sm\:focus\:before\:p-2:where(*):where(*)`],
])('%s in any state is %s', (selector, out) => expect(inAnyState(selector)).toBe(out))
