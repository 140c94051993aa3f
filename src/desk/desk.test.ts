import { expect, test } from 'vitest'
import { Database } from '../storage/db'
import { createProject } from '../storage/projects'
import { Desk } from './desk'
import { UnreadFiles } from './unread-files'

const SHEET = '.a { top: 0; }\n'
const bytes = (text: string) => new TextEncoder().encode(text)

test('what is edited and asked waits until all files of the project are read', async () => {
  const id = await createProject(new Database(), 'Pier', [
    { path: 'index.html', bytes: bytes('<link rel="stylesheet" href="a.css"><p class="a">x') },
    { path: 'a.css', bytes: bytes(SHEET) },
  ])
  const desk = new Desk()
  await desk.opening.open(id, '')
  let finish = () => {}
  const isRead = new Promise<void>((done) => (finish = done))
  desk.current.unread = new UnreadFiles([{ key: 9, path: 'late.css', size: 1 }], {
    read: async () => {
      await isRead
      return [bytes('')]
    },
    take: async () => {},
  })
  const done: string[] = []
  const intent = { kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule: 1 }, name: 'top', value: '1px' } as const
  const all = [
    desk.editing.show(intent, true).then(() => done.push('shown')),
    desk.editing.commit(intent, 1).then(() => done.push('written')),
    desk.reading.namesOf('a.css', 1).then(() => done.push('read')),
    desk.history.read().then(() => done.push('history')),
  ]
  // The folder is not the project: it is looked at meanwhile.
  await desk.folder.check()
  await new Promise((wait) => setTimeout(wait, 50))
  expect([done, desk.current.text('a.css')]).toEqual([[], SHEET])
  finish()
  await Promise.all(all)
  expect(done).toHaveLength(4)
  expect(desk.current.text('a.css')).toBe('.a { top: 1px; }\n')
})
