import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { textMark } from '../text'
import { blocksOf, isCssBlock, styleBlockAt, styleBlocks, tagOffset } from '.'

const told = (text: string) => blocksOf(text).map((b) => [b.tag, text.slice(b.content.from, b.content.to)])

describe('blocks of a component of one file', () => {
  test.each<[string, string, string[][]]>([
    [
      'templates in templates, tags in scripts and comments',
      '<!-- <style>no</style> -->\n<script setup>const a = "<style>"</script>\n<template><div v-if="a > b"><template #x><i/></template></div></template>\n<style scoped>.a{}</style>',
      [
        ['script', 'const a = "<style>"'],
        ['template', '<div v-if="a > b"><template #x><i/></template></div>'],
        ['style', '.a{}'],
      ],
    ],
    [
      'Svelte, whose markup stands beside them',
      '<script lang="ts">let a = 1</script>\n<button onclick={() => (a = a > 3 ? 0 : a + 1)}>{a < 2 ? `<b>` : ""}</button>\n{#if a}<p title="<style>">x</p>{/if}\n<style>\n  p { color: red }\n</style>\n',
      [
        ['script', 'let a = 1'],
        ['style', '\n  p { color: red }\n'],
      ],
    ],
    ['Astro, after its frontmatter', '---\nconst s = "<style>no</style>"\n---\n<p>{s}</p>\n<style>p{}</style>', [['style', 'p{}']]],
    ['an element that is not ended', '<style>.a{', []],
    ['none', 'text', []],
  ])('%s', (_, text, blocks) => {
    expect(told(text)).toEqual(blocks)
  })

  test('are CSS, or become it', () => {
    const css = (tag: string) => isCssBlock(blocksOf(`${tag}x</style>`)[0])
    expect(['<style>', '<style scoped lang="css">', "<style lang='postcss'>"].map(css)).toEqual([true, true, true])
    expect(['<style lang="scss">', '<style lang=less>', '<style src="a.css">'].map(css)).toEqual([false, false, false])
  })

  test('end where their text does, whatever it is', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (css, markup) => {
        const [inside, around] = [css.replace(/<\/?style|<!--/gi, ''), markup.replace(/[<`{}"'-]/g, '')]
        const text = `${around}<style>${inside}</style>${around}`
        expect(told(text)).toEqual([['style', inside]])
      }),
    )
  })

  test('are named as their compilers name them', () => {
    expect(styleBlockAt('src/App.vue', 'vue&type=style&index=1&scoped=7a&lang.css')).toBe('src/App.vue?style=1')
    expect(styleBlockAt('src/App.svelte', 'svelte&type=style&lang.css')).toBe('src/App.svelte?style=0')
    expect(styleBlockAt('src/App.vue', 'vue&type=script')).toBeNull()
    expect(styleBlockAt('a.css', 'v=12&type=style')).toBeNull()
  })

  test('are counted as their compilers count them', () => {
    const text = '<style>.a{}</style><p>x</p><style is:inline>.i{}</style><style lang="scss">.b{}</style><style is:global>.c{}</style>'
    const told = (path: string) =>
      styleBlocks(path, text).map(({ block, nth }) => `${nth} ${text.slice(block.content.from, block.content.to)}`)
    expect(told('src/App.vue')).toEqual(['0 .a{}', '1 .i{}', '2 .b{}', '3 .c{}'])
    // As `@astrojs/compiler` 2.13 numbers its `css`.
    expect(told('src/App.astro')).toEqual(['2 .a{}', '1 .b{}', '0 .c{}'])
  })
})

test('a tag is found where its compiler said, and only if it stands there', () => {
  const text = '<script>\r\nlet a\r\n</script>\r\n<main>\r\n  <p>é <b>x</b></p>\r\n</main>'
  expect(text.slice(tagOffset(text, 5, '@2', 'p')!).startsWith('<p>')).toBe(true)
  expect(tagOffset(text, 5, '@3', 'p')).toBeNull()
  expect(tagOffset(text, 50, '@0', 'p')).toBeNull()
  // Astro says where the start tag ends.
  expect(text.slice(tagOffset(text, 5, '>6', 'p')!).startsWith('<p>')).toBe(true)
  const vue = `<script>x</script>\n<template>\n  <i>a</i>\n</template>`
  const inside = '\n  <i>a</i>\n'
  expect(vue.slice(tagOffset(vue, 3, textMark(inside), 'i')!).startsWith('<i>')).toBe(true)
  expect(tagOffset(vue, 3, textMark('other'), 'i')).toBeNull()
  // What stands beside the template may be another by now.
  expect(tagOffset(`<style>p{}</style>\n${vue}`, 3, textMark(inside), 'i')).not.toBeNull()
})
