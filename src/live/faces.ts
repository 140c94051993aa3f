/** A font file that comes with Steady Brush and can be brought into a project. */
export interface BundledFile {
  readonly name: string
  /** From the installed packages' folder. */
  readonly from: string
  readonly weight: string
  readonly style: string
}

export interface BundledFace {
  readonly family: string
  /** The generic family that stands in for it (CSS Fonts 4 §2.1.3). */
  readonly generic: string
  readonly files: readonly BundledFile[]
  /** The text of the Open Font License, which goes with the files. */
  readonly licence: { readonly name: string; readonly from: string }
}

const variable = (slug: string, family: string, generic: string): BundledFace => ({
  family,
  generic,
  files: ['normal', 'italic'].map((style) => ({
    name: `${slug}-${style}.woff2`,
    from: `@fontsource-variable/${slug}/files/${slug}-latin-wght-${style}.woff2`,
    weight: '200 900',
    style,
  })),
  licence: { name: `${slug}-license.txt`, from: `@fontsource-variable/${slug}/LICENSE` },
})

export const BUNDLED: readonly BundledFace[] = [
  variable('source-sans-3', 'Source Sans 3', 'sans-serif'),
  variable('source-serif-4', 'Source Serif 4', 'serif'),
  {
    family: 'Source Code Pro',
    generic: 'monospace',
    files: ['400', '700'].map((weight) => ({
      name: `source-code-pro-${weight}.woff2`,
      from: `@fontsource/source-code-pro/files/source-code-pro-latin-${weight}-normal.woff2`,
      weight,
      style: 'normal',
    })),
    licence: { name: 'source-code-pro-license.txt', from: '@fontsource/source-code-pro/LICENSE' },
  },
]
