import type { Project } from '../project'
import type { Vocabulary } from './types'

const known = new WeakMap<Project, readonly Vocabulary[]>()

/** The utility classes that a project is styled with: what was set for it last. */
export const vocabulariesOf = (project: Project): readonly Vocabulary[] => known.get(project) ?? []

export const setVocabularies = (project: Project, vocabularies: readonly Vocabulary[]): void => {
  known.set(project, vocabularies)
}
