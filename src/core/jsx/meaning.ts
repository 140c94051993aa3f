import type { Bindings } from './bindings'
import { bare, type Node } from './parse'

/** A file that values are written in, with the names that the file binds. */
export interface ValueFile {
  /** From the project's root. */
  readonly path: string
  readonly text: string
  readonly bindings: Bindings
  /** The file of the project that an import of this one leads to; null where it leads to none. */
  imported(module: string): ValueFile | null
}

/** What a name stands for. */
export interface Meant {
  readonly node: Node
  /** The file that writes it. */
  readonly file: ValueFile
  /** Whether it is a parameter's default: what is given takes its place. */
  readonly isDefault: boolean
  /** Whether it may be used elsewhere too. */
  readonly isShared: boolean
}

/** How many modules are gone through from an import to where a value is written. */
const MOST_MODULES = 5

/** What a name of a file stands for, in it or in a file that it imports from; null where that is not written out. */
export function meantBy(file: ValueFile, name: string, modules = 0): Meant | null {
  const binding = file.bindings.of(name)
  if (!binding) return null
  if (binding.module !== null && binding.imported !== null) {
    const from = modules < MOST_MODULES ? file.imported(binding.module) : null
    return from && exportedBy(from, binding.imported, modules + 1)
  }
  return (
    binding.value && {
      node: bare(binding.value),
      file,
      isDefault: binding.isDefault,
      isShared: binding.uses > 1 || binding.isExported,
    }
  )
}

/** What a file exports under a name. */
function exportedBy(file: ValueFile, name: string, modules: number): Meant | null {
  for (const is of file.bindings.exportsOf(name)) {
    if ('node' in is) return { node: bare(is.node), file, isDefault: false, isShared: true }
    if ('local' in is) return meantBy(file, is.local, modules)
    const from = modules < MOST_MODULES ? file.imported(is.module) : null
    const found = from && exportedBy(from, is.name, modules + 1)
    if (found) return found
  }
  return null
}

/** What a member of a name stands for, where the name is all of a module (`import * as styles`); null for any other. */
export function meantInModule(file: ValueFile, name: string, member: string): Meant | null {
  const binding = file.bindings.of(name)
  const from = binding?.module && binding.imported === '*' ? file.imported(binding.module) : null
  return from && exportedBy(from, member, 1)
}
