import { expect, test } from 'vitest'
import { keptPath } from './protocol'

// A sheet under `@vendor/` was not found once: pages write its address without percents.
test.each(['vendor/@pier/a.css', 'a+b,c;d=e&f$g.svg', 'a b/ü(1).png', '100%.txt', "it's.html"])(
  '%s is found as a page writes it and as a URL has it',
  (path) => {
    const kept = `/${path.split('/').map(encodeURIComponent).join('/')}`
    expect(keptPath(`/${path}`)).toBe(kept)
    expect(keptPath(new URL(`http://x/${encodeURI(path)}`).pathname)).toBe(kept)
  },
)
