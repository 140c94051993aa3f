import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const page = (body: string, head = '') =>
  `<!DOCTYPE html>\n<html lang="en">\n<head><meta charset="utf-8"><title>Pier</title>${head}<link rel="stylesheet" href="site.css"></head>\n<body>\n${body}\n</body>\n</html>\n`

/** Opens a project written for the occasion, with its classes read. */
async function open(studio: Studio, name: string, files: Readonly<Record<string, string>>): Promise<void> {
  await studio.open('/?proof')
  await studio.importSite(name, files)
  await studio.ready()
  await studio.until('the classes', () => studio.driver.executeScript<boolean>('return window.steadyProof.state().vocabulary?.share === 1'))
}

const lineWith = async (studio: Studio, has: string) =>
  (await studio.sourceNow('index.html'))
    .split('\n')
    .find((l) => l.includes(has))
    ?.trim()

/** Sets a property of what is chosen, as its control in Tune does. */
const commit = (studio: Studio, property: string, value: string) =>
  studio.edit(() =>
    studio.driver.executeAsyncScript(
      'const done = arguments[2]; window.steadyProof.session.edits.commit(arguments[0], arguments[1]).then(() => done())',
      property,
      value,
    ),
  )

async function addClasses(studio: Studio, text: string): Promise<void> {
  const field = await studio.driver.findElement(By.css('input[aria-label="Add classes"]'))
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
  await field.click()
  await studio.driver.executeScript(
    'const d = new DataTransfer(); d.setData("text/plain", arguments[1]); arguments[0].dispatchEvent(new ClipboardEvent("paste", { clipboardData: d, bubbles: true, cancelable: true }))',
    field,
    text,
  )
}

test('with a prefix: edits have it, and what is pasted without it gets it', async () => {
  const studio = getStudio()
  await open(studio, 'prefix', {
    'index.html': page('<p class="tw:p-4 tw:mt-1 card">Night boat</p>'),
    'site.css': '@import "tailwindcss" prefix(tw);\n',
  })
  await studio.pick('p')
  expect(await studio.edit(() => studio.type('padding-left', '20px'))).toMatch(/tw:pl-5 reach 1/)
  await studio.edit(() => addClasses(studio, 'mt-4 text-lg harbour'))
  expect(await lineWith(studio, 'Night boat')).toBe('<p class="tw:p-4 tw:pl-5 tw:mt-4 card tw:text-lg harbour">Night boat</p>')
  expect(await studio.computed('p', 'margin-top')).toBe('16px')
  expect(await studio.verdict()).toBe('holds')
})

test('states have the names that classes give them: groups, peers, attributes, and a variant made of two', async () => {
  const studio = getStudio()
  await open(studio, 'variants', {
    'index.html': page(`<ul><li class="group p-4"><span class="text-black group-hover:text-sea">Pier</span></li></ul>
<div><input type="checkbox" class="peer"><b class="peer-checked:p-2">Booked</b></div>
<section class="data-[open]:mt-2 p-1">More</section>
<button class="bg-white hocus:bg-sea inline-flex">Book</button>`),
    'site.css':
      '@import "tailwindcss";\n@theme { --color-sea: #0f5b66; --color-buoy: #b23c26 }\n@custom-variant hocus { &:hover, &:focus-visible { @slot; } }\n',
  })
  const nameOf = (label: string) =>
    studio.until(label, () =>
      studio.driver.executeScript<string | null>(
        'return [...document.querySelectorAll("select[aria-label=State] option")].find((o) => o.textContent === arguments[0])?.value ?? null',
        label,
      ),
    )
  const under = async (selector: string, label: string) => {
    await studio.pick(selector, 0.5, 0.5)
    await studio.choose('State', await nameOf(label))
  }
  await under('span', 'group-hover')
  expect(await studio.computed('span', 'color')).toBe('rgb(15, 91, 102)')
  await commit(studio, 'color', '#b23c26')
  expect(await lineWith(studio, 'Pier</span>')).toContain('<span class="text-black group-hover:text-buoy">')
  expect(await studio.computed('span', 'color')).toBe('rgb(178, 60, 38)')
  expect(await studio.verdict()).toBe('holds')
  await under('b', 'peer-checked')
  expect(await studio.computed('b', 'padding-left')).toBe('8px')
  await commit(studio, 'padding', '16px')
  expect(await lineWith(studio, 'Booked')).toContain('<b class="peer-checked:p-4">')
  expect(await studio.verdict()).toBe('holds')
  await under('section', 'data-[open]')
  await commit(studio, 'margin-top', '4px')
  expect(await lineWith(studio, '<section')).toContain('<section class="data-[open]:mt-1 p-1">')
  expect(await studio.verdict()).toBe('holds')
  await studio.pick('button', 0.8, 0.6)
  await studio.until(
    'the attribute gone',
    async () => !(await studio.inPage<boolean>('return document.querySelector("section").hasAttribute("data-open")')),
  )
  await studio.choose('State', ':hover')
  await commit(studio, 'background-color', '#b23c26')
  expect(await lineWith(studio, 'Book</button>')).toContain('<button class="bg-white hocus:bg-buoy inline-flex">')
  expect(await studio.verdict()).toBe('holds')
  // The displays that classes have are there to choose.
  await studio.choose('State', '')
  await studio.unfold('Layout')
  await studio.edit(() => studio.choose('Other values of display', 'inline-grid'))
  expect(await lineWith(studio, 'Book</button>')).toContain('hocus:bg-buoy inline-grid">')
})

test('dark by the colour scheme, and gradients, transforms and transitions in the steps that classes have', async () => {
  const studio = getStudio()
  await open(studio, 'effects', {
    'index.html': page('<h1 class="bg-linear-to-r from-sea to-white p-4">Crossings</h1>'),
    'site.css': '@import "tailwindcss";\n@theme { --color-sea: #0f5b66 }\n',
  })
  await studio.pick('h1')
  await studio.choose('Widths', '(prefers-color-scheme: dark)')
  expect(await studio.edit(() => studio.type('padding', '8px'))).toMatch(/dark:p-2 reach 1/)
  expect(await studio.verdict()).toBe('holds')
  await studio.choose('Widths', '')
  const set = async (property: string, value: string): Promise<string> => {
    await commit(studio, property, value)
    expect(`${property}: ${value}: ${await studio.verdict()}`).toBe(`${property}: ${value}: holds`)
    return (await lineWith(studio, 'Crossings')) ?? ''
  }
  expect(await set('transform', 'rotate(3deg)')).toContain('rotate-3')
  expect(await set('transform', 'scale(1.05)')).toContain('scale-105 rotate-3')
  expect(await set('transition', 'all 200ms')).toContain('transition-all duration-200')
  expect(await set('filter', 'blur(4px)')).toContain('blur-xs')
  // The gradient's fields have its line and its stops, and a stop changed is its class.
  await studio.unfold('Colour')
  const fields = await studio.until('the stops', async () => {
    const found = await studio.driver.executeScript<string[]>(
      'return [...document.querySelectorAll("[data-testid=row-background-image] input")].map((i) => i.value)',
    )
    return found.length > 2 && found
  })
  expect(fields.join(' ')).not.toContain('var(')
  expect(await set('background-image', 'linear-gradient(to left in oklab, #0f5b66, #000)')).toMatch(/bg-linear-to-l from-sea to-black/)
  expect(await set('background-image', 'radial-gradient(in oklab, #0f5b66, #000)')).toMatch(/bg-radial from-sea to-black/)
  expect(await set('box-shadow', '0 1px 2px 0 rgb(0 0 0 / 0.05)')).toContain('shadow-xs')
})

test('a project of version 3 is written as version 3 is', async () => {
  const studio = getStudio()
  await open(studio, 'third', {
    'index.html': page('<p class="shadow rounded p-4">Harbour</p>\n<h2 class="bg-gradient-to-r from-sea to-white">Fares</h2>'),
    'site.css': '@tailwind base;\n@tailwind components;\n@tailwind utilities;\n',
    'tailwind.config.js': 'module.exports = { content: ["*.html"], theme: { extend: { colors: { sea: "#0f5b66" } } } }\n',
  })
  await studio.pick('p')
  await commit(studio, 'box-shadow', '0 1px 2px 0 rgb(0 0 0 / 0.05)')
  await commit(studio, 'border-radius', '2px')
  await commit(studio, 'padding-left', '52px')
  expect(await lineWith(studio, 'Harbour')).toBe('<p class="shadow-sm rounded-sm p-4 pl-[52px]">Harbour</p>')
  expect(await studio.verdict()).toBe('holds')
  await studio.pick('h2')
  await commit(studio, 'background-image', 'linear-gradient(to right, #000, white)')
  expect(await lineWith(studio, 'Fares')).toContain('class="bg-gradient-to-r from-black to-white"')
  expect(await studio.verdict()).toBe('holds')
})

test('what a rule of the project decides is changed there; a class with several things is written over; a list goes back as it was', async () => {
  const studio = getStudio()
  await open(studio, 'mixed', {
    'index.html': page(
      '<a class="chip px-3 mt-1 text-sm" href="#">Tides</a>\n<section class="plate mt-2">Quay</section>\n<div class="flex gap-2 space-x-4"><i>a</i><i>b</i></div>',
    ),
    'site.css':
      '@import "tailwindcss";\n@utility plate { border-radius: 2px; padding: 8px; background-color: #eee; }\n.chip { display: inline-block; padding: 5px 9px; }\n',
  })
  await studio.pick('a', 0.3, 0.3)
  await studio.edit(() => studio.type('padding-left', '12px'))
  expect(await studio.sourceNow('site.css')).toContain('.chip { display: inline-block; padding: 5px 9px 5px 12px; }')
  expect(await lineWith(studio, 'Tides')).toContain('class="chip px-3 mt-1 text-sm"')
  await studio.undo()
  // A class switched off is back in its place when it is switched on.
  const toggle = async () => {
    const row = await studio.until('mt-1', () => studio.driver.findElement(By.css('[data-testid=class-row][data-name="mt-1"] input')))
    await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "nearest" })', row)
    await studio.edit(() => row.click())
  }
  await toggle()
  expect(await lineWith(studio, 'Tides')).toContain('class="chip px-3 text-sm"')
  await toggle()
  expect(await lineWith(studio, 'Tides')).toContain('class="chip px-3 mt-1 text-sm"')
  // What another takes the place of is shown struck for a moment.
  await studio.edit(() => addClasses(studio, 'mt-4 mt-4'))
  await studio.until('mt-1 struck', () =>
    studio.driver.executeScript<boolean>('return document.querySelector("[data-testid=class-row][data-name=mt-1][data-struck]") !== null'),
  )
  expect(await lineWith(studio, 'Tides')).toContain('class="chip px-3 mt-4 text-sm"')
  await studio.until('mt-1 gone', () =>
    studio.driver.executeScript<boolean>('return document.querySelector("[data-testid=class-row][data-name=mt-1]") === null'),
  )
  await studio.pick('section')
  await studio.unfold('Edges')
  await commit(studio, 'border-radius', '8px')
  expect(await lineWith(studio, 'Quay')).toContain('class="plate rounded-lg mt-2"')
  // The place where such a class is defined is offered too.
  expect(
    await studio.driver.executeScript<string[]>(
      'return window.steadyProof.state().picked.aims.get("border-radius").candidates.map((c) => `${c.path}:${c.line} ${c.current}`)',
    ),
  ).toContain('site.css:2 2px')
  await studio.driver.executeScript(
    'const { selection } = window.steadyProof.session; selection.chooseAim("padding", window.steadyProof.state().picked.aims.get("padding").candidates.findIndex((c) => c.path === "site.css"))',
  )
  await commit(studio, 'padding', '12px')
  expect(await studio.sourceNow('site.css')).toContain('@utility plate { border-radius: 2px; padding: 12px; background-color: #eee; }')
  expect(await studio.computed('section', 'padding-top')).toBe('12px')
  await studio.pick('div', 0.9, 0.5)
  await studio.until('what adds up', async () => (await studio.text('row-gap')).includes('space-x-4 adds its margins to it'))
  // Arrows on a tape go from step to step; with Alt between them.
  await studio.pick('section', 0.5, 0.5)
  const tape = await studio.tape('margin-top')
  await studio.driver.executeScript('arguments[0].focus()', tape)
  await studio.edit(() => tape.sendKeys(Key.ARROW_RIGHT))
  expect(await lineWith(studio, 'Quay')).toContain('rounded-lg mt-2.5')
  await studio.edit(() => tape.sendKeys(Key.chord(Key.ALT, Key.ARROW_RIGHT)))
  expect(await lineWith(studio, 'Quay')).toContain('rounded-lg mt-[10.1px]')
})

test('sides, keywords, tracks and sizes in the fewest classes, and a size keeps its line height', async () => {
  const studio = getStudio()
  await open(studio, 'sides', {
    'index.html': page(
      '<h1 class="md:text-5xl">Brinewick</h1>\n<div class="flex border-b border-sea/20 p-4 h-20 w-16">Quay</div>\n<ul class="grid grid-cols-2 p-8"><li>a</li><li>b</li></ul>',
    ),
    'site.css': '@import "tailwindcss";\n@theme { --color-sea: #0f5b66 }\n',
  })
  const after = async (property: string, value: string, has: string) => {
    await commit(studio, property, value)
    expect(`${property}: ${value}: ${await studio.verdict()}`).toBe(`${property}: ${value}: holds`)
    return /class="([^"]*)"/.exec((await lineWith(studio, has)) ?? '')?.[1]
  }
  await studio.pick('h1')
  expect(await after('font-size', '50px', 'Brinewick')).toBe('md:text-[50px] md:leading-none')
  await studio.pick('div', 0.5, 0.5)
  expect(await after('border-bottom-color', '#ffffff', 'Quay')).toBe('flex border-b border-white p-4 h-20 w-16')
  expect(await after('padding-left', '20px', 'Quay')).toBe('flex border-b border-white p-4 pl-5 h-20 w-16')
  expect(await after('width', '80px', 'Quay')).toBe('flex border-b border-white p-4 pl-5 size-20')
  expect(await after('align-items', 'start', 'Quay')).toMatch(/ ?items-start/)
  expect(await after('letter-spacing', '-0.05em', 'Quay')).toMatch(/tracking-tighter/)
  expect(await after('border-width', '2px', 'Quay')).toMatch(/border-2/)
  await studio.pick('ul', 0.5, 0.9)
  expect(await after('grid-template-columns', 'repeat(2, minmax(0, 1fr)) 1fr', '<ul')).toBe('grid grid-cols-3 p-8')
})
