import type { FaceFile, NewFile } from '../../core/edit'
import { BUNDLED, type BundledFace } from '../../live/faces'

const loaded = new Map<
  string,
  Promise<{
    readonly faces: readonly (Omit<FaceFile, 'path'> & { readonly name: string })[]
    readonly licence: Uint8Array
  }>
>()

async function fetchBytes(name: string): Promise<Uint8Array> {
  const answer = await fetch(`/faces/${name}`)
  if (!answer.ok) throw new Error(`The face ${name} could not be read: ${answer.status}`)
  return new Uint8Array(await answer.arrayBuffer())
}

/** The files of a bundled face, fetched once. */
export function filesOf(face: BundledFace) {
  let found = loaded.get(face.family)
  if (!found) {
    found = Promise.all([
      Promise.all(face.files.map(async ({ name, weight, style }) => ({ name, weight, style, bytes: await fetchBytes(name) }))),
      fetchBytes(face.licence.name),
    ]).then(([faces, licence]) => ({ faces, licence }))
    loaded.set(face.family, found)
  }
  return found
}

/** The files as they would stand in a folder of the project. */
export async function filesIn(folder: string, face: BundledFace): Promise<{ faces: FaceFile[]; besides: NewFile[] }> {
  const { faces, licence } = await filesOf(face)
  const path = (name: string) => (folder ? `${folder}/${name}` : name)
  return {
    faces: faces.map(({ name, ...f }) => ({ ...f, path: path(name) })),
    besides: [{ path: path(face.licence.name), bytes: licence }],
  }
}

export const bundledFace = (family: string): BundledFace | null => BUNDLED.find((f) => f.family === family) ?? null
