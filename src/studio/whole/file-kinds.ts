import type { FileKind } from '../../core/project'

/** Kinds of files in the order that they are listed in. */
export const FILE_KINDS: readonly FileKind[] = ['page', 'style sheet', 'script', 'picture', 'face', 'sound or film', 'other']

/** The colour of a kind, as CSS. */
export const kindColor = (kind: FileKind): string => `var(--${kind.replaceAll(' ', '-')})`
