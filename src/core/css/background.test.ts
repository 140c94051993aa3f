import { describe, expect, test } from 'vitest'
import { setInBackground } from './background'
import { NO_KNOWLEDGE } from './components'

describe('images added to and taken out of `background`', () => {
  test.each<[string, string, string | null]>([
    ['linear-gradient(red, blue)', 'url(x.png), linear-gradient(red, blue)', 'url(x.png), linear-gradient(red, blue)'],
    [
      'linear-gradient(red, blue) no-repeat, #fff',
      'url(x.png), linear-gradient(red, blue), none',
      'url(x.png), linear-gradient(red, blue) no-repeat, #fff',
    ],
    ['url("a.svg") center / cover', 'linear-gradient(red, blue), url("a.svg")', 'linear-gradient(red, blue), url("a.svg") center / cover'],
    ['url(a.png) top, url(b.png) left #123', 'url(b.png)', 'url(b.png) left #123'],
    ['url(a.png) top, url(b.png) left #123', 'url(a.png)', 'url(a.png) top #123'],
    ['url(a.png), #123', 'url(a.png)', 'url(a.png) #123'],
    ['url(a.png) #123', 'url(a.png), url(b.png)', 'url(a.png), url(b.png) #123'],
    ['url(a.png)', 'url(c.png), url(d.png)', null],
  ])('%s with %s is %s', (value, images, out) =>
    expect(setInBackground('background', value, new Map([['background-image', images]]), NO_KNOWLEDGE)).toBe(out),
  )
})
