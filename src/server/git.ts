import { randomBytes } from 'node:crypto'
import { access, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { isAbsolute, join } from 'node:path'
import { simpleGit, GitError, type SimpleGit } from 'simple-git'
import { conflictsIn, decodeSource, encodeSource, mergedText, mergeTexts } from '../core/text'
import type { CommitFile, Committed, CommitRequest, GitState } from '../folder'

/** How long git may say nothing, its hooks included; ms. */
const MOST_SILENCE = 120_000

/** What can be under way, by the file of git's own that says so. */
const UNDER_WAY: readonly (readonly [file: string, what: string])[] = [
  ['MERGE_HEAD', 'merge'],
  ['rebase-merge', 'rebase'],
  ['rebase-apply', 'rebase'],
  ['CHERRY_PICK_HEAD', 'cherry-pick'],
  ['REVERT_HEAD', 'revert'],
  ['BISECT_LOG', 'bisection'],
]

/** Who commits, where the environment says it. */
const WHO: readonly string[] = ['GIT_AUTHOR_NAME', 'GIT_AUTHOR_EMAIL', 'GIT_COMMITTER_NAME', 'GIT_COMMITTER_EMAIL']

const isThere = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  )

// A hook may refuse without a word.
const failure = (
  error: Buffer | Error | undefined,
  { exitCode, stdErr, stdOut }: { exitCode: number; stdErr: Buffer[]; stdOut: Buffer[] },
): Buffer | Error | undefined => {
  if (exitCode === 0) return undefined
  const said = Buffer.concat([...stdErr, ...stdOut])
  return error ?? (said.length ? said : Buffer.from(`It ended with ${exitCode} and said nothing.`))
}

/** What a commit cannot be made of, in words. */
class Refusal extends Error {
  override readonly name = 'Refusal'
}

/** The real git in a folder. It never pushes, resets or stashes. */
export class Git {
  private readonly start: Promise<string | null>

  constructor(private readonly root: string) {
    this.start = this.git()
      .revparse(['--verify', '--quiet', 'HEAD'])
      .catch(() => null)
  }

  private git(env: Readonly<Record<string, string>> = {}): SimpleGit {
    // Where the environment names a repository, as in a hook, that is another's.
    const own = Object.entries(process.env).filter(
      ([name]) => !/^GIT_|^(EDITOR|VISUAL|PAGER|SSH_ASKPASS)$/.test(name) || WHO.includes(name),
    )
    const all = { ...Object.fromEntries(own), LC_ALL: 'C', GIT_TERMINAL_PROMPT: '0', ...env } as Record<string, string>
    // A repository's own settings could name a program that is asked for what changed.
    return simpleGit(this.root, {
      config: ['core.fsmonitor=false', 'core.quotepath=false'],
      unsafe: { allowUnsafeFsMonitor: true },
      allowEnvironment: [...WHO, 'GIT_TERMINAL_PROMPT', 'GIT_OPTIONAL_LOCKS', 'GIT_INDEX_FILE'],
      timeout: { block: MOST_SILENCE },
      errors: failure,
    }).env(all)
  }

  async state(): Promise<GitState | null> {
    const git = this.git({ GIT_OPTIONAL_LOCKS: '0' })
    let prefix: string
    try {
      if ((await git.revparse(['--is-inside-work-tree'])) !== 'true') return null
      prefix = (await git.raw('rev-parse', '--show-prefix')).trimEnd()
    } catch {
      return null
    }
    const status = await git.status(['--untracked-files=all', '--', '.'])
    const head = await git.revparse(['--short', 'HEAD']).catch(() => null)
    const branch = (await git.raw('symbolic-ref', '--short', '-q', 'HEAD').catch(() => '')).trim() || null
    const changed = status.files.flatMap(({ path, index, working_dir: work }): GitState['changed'][number][] => {
      if (!path.startsWith(prefix)) return []
      const is =
        index === 'U' || work === 'U' || (index === work && /[AD]/.test(index))
          ? 'conflicted'
          : index === '?' || index === 'A'
            ? 'new'
            : index === 'D' || work === 'D'
              ? 'deleted'
              : 'changed'
      return [{ path: path.slice(prefix.length), is }]
    })
    return {
      branch,
      head,
      changed,
      commits: head === null ? 0 : await this.commitsSince(git),
      refusal: await this.refusal(git),
    }
  }

  /** Files as the commit that is checked out has them, with the line ends of a working tree; null for each that it has not. */
  async committed(paths: readonly string[]): Promise<(Uint8Array | null)[]> {
    const git = this.git()
    const prefix = (await git.raw('rev-parse', '--show-prefix')).trimEnd()
    const head = await git.revparse(['--verify', '--quiet', 'HEAD']).catch(() => null)
    const names = paths.map((path) => `:(literal)${path}`)
    const there = new Set(head === null ? [] : (await git.raw('ls-tree', '-z', '--name-only', 'HEAD', '--', ...names)).split('\0'))
    const out: (Uint8Array | null)[] = []
    for (const path of paths) out.push(there.has(path) ? await this.inCommit(git, prefix + path) : null)
    return out
  }

  // `full` counts from the top of the repository.
  private async inCommit(git: SimpleGit, full: string): Promise<Buffer> {
    return (await git.binaryCatFile(['--filters', `HEAD:${full}`])) as Buffer
  }

  // From the one that was checked out when the folder was opened; all, where there was none.
  private async range(): Promise<string> {
    const start = await this.start
    return start === null ? 'HEAD' : `${start}..HEAD`
  }

  private async commitsSince(git: SimpleGit): Promise<number> {
    return Number((await git.raw('rev-list', '--count', await this.range()).catch(() => '0')).trim())
  }

  async series(): Promise<string | null> {
    const git = this.git()
    if ((await this.commitsSince(git)) === 0) return null
    return git.raw('format-patch', '--stdout', ...((await this.start) === null ? ['--root'] : []), await this.range())
  }

  private async gitPaths(git: SimpleGit, names: readonly string[]): Promise<string[]> {
    const paths = (await git.raw('rev-parse', ...names.flatMap((name) => ['--git-path', name]))).trimEnd().split('\n')
    return paths.map((path) => (isAbsolute(path) ? path : join(this.root, path)))
  }

  // Why nothing is committed now.
  private async refusal(git: SimpleGit): Promise<string | null> {
    const [lock, ...states] = await this.gitPaths(git, ['index.lock', ...UNDER_WAY.map(([file]) => file)])
    for (const [i, [, what]] of UNDER_WAY.entries())
      if (await isThere(states[i])) return `A ${what} is under way. Finish it, or end it, in git first.`
    if (await isThere(lock)) return 'Another program is using the repository (index.lock is there). Try again when it is done.'
    const hasName = await git.raw('var', 'GIT_AUTHOR_IDENT').then(
      () => true,
      () => false,
    )
    return hasName ? null : 'Git does not know who commits. Tell it: git config --global user.name "…", and user.email.'
  }

  /** Commits what was changed in files, and nothing else; what else is staged or changed stays so. */
  async commit(request: CommitRequest): Promise<Committed> {
    const git = this.git()
    try {
      const state = await this.state()
      if (!state) throw new Refusal('The folder is in no git repository.')
      if (state.refusal) throw new Refusal(state.refusal)
      if (request.message.trim() === '') throw new Refusal('A commit needs a message.')
      if (state.branch === null && request.branch === null)
        throw new Refusal(`No branch is checked out (HEAD is at ${state.head}). Name a new branch for the commit.`)
      if (request.branch !== null) await this.checkBranch(git, request.branch)
      return await this.commitOn(git, state, request)
    } catch (error) {
      if (error instanceof Refusal) return { ok: false, why: error.message }
      if (error instanceof GitError) return { ok: false, why: `Git did not commit. ${error.message.trim()}` }
      throw error
    }
  }

  private async checkBranch(git: SimpleGit, name: string): Promise<void> {
    const isName = await git.raw('check-ref-format', '--branch', name).then(
      () => !name.startsWith('-'),
      () => false,
    )
    if (!isName) throw new Refusal(`${JSON.stringify(name)} cannot be the name of a branch.`)
    if (
      await git.raw('rev-parse', '--verify', '--quiet', `refs/heads/${name}`).then(
        () => true,
        () => false,
      )
    )
      throw new Refusal(`There is a branch ${name} already.`)
  }

  private async commitOn(git: SimpleGit, state: GitState, { message, branch, files }: CommitRequest): Promise<Committed> {
    const aside = await mkdtemp(join(tmpdir(), 'steady-brush-'))
    // The commit is made of an index of its own, so that what the person staged stays as it is.
    const [index] = await this.gitPaths(git, [`steady-brush-${randomBytes(6).toString('hex')}.index`])
    const own = this.git({ GIT_INDEX_FILE: index })
    try {
      await (state.head === null ? own.raw('read-tree', '--empty') : own.raw('read-tree', 'HEAD'))
      const entries: Entry[] = []
      for (const [n, file] of files.entries()) {
        const entry = await this.entryFor(git, file, join(aside, String(n)))
        if (entry) entries.push(entry)
      }
      if (entries.length === 0) throw new Refusal('The last commit has all of it already.')
      const theirs = await Promise.all(
        entries.map(async (e) => [e, await this.stagedBeside(git, e, join(aside, `staged-${entries.indexOf(e)}`))] as const),
      )
      for (const e of entries) await own.raw('update-index', '--add', '--cacheinfo', `${e.mode},${e.blob},${e.full}`)
      await writeFile(join(aside, 'message'), `${message.trimEnd()}\n`)
      // A new branch takes the working tree along, as it is.
      if (branch !== null)
        await git
          .raw('symbolic-ref', 'HEAD', `refs/heads/${branch}`)
          .then(() => (state.head === null ? null : git.raw('update-ref', `refs/heads/${branch}`, state.head)))
      let told = ''
      try {
        // What hooks say comes beside what git says.
        own.outputHandler((_, out, errors) => [out, errors].forEach((stream) => stream.on('data', (part) => (told += String(part)))))
        await own.raw('commit', '--quiet', '-F', join(aside, 'message'))
      } catch (error) {
        if (branch !== null) await this.backFrom(git, branch, state)
        throw error
      }
      for (const [e, staged] of theirs) {
        await git
          .raw('update-index', '--add', '--cacheinfo', `${e.mode},${staged},${e.full}`)
          .catch(
            (error: unknown) =>
              (told += `\n${e.path} is committed, and shows as staged back: the index could not be written (${String(error)}).`),
          )
      }
      const commit = await git.revparse(['--short', 'HEAD'])
      return { ok: true, commit, branch: branch ?? state.branch!, files: entries.map((e) => e.path), told: told.trim() }
    } finally {
      await rm(aside, { recursive: true, force: true })
      await Promise.all([rm(index, { force: true }), rm(`${index}.lock`, { force: true })])
    }
  }

  private async backFrom(git: SimpleGit, branch: string, state: GitState): Promise<void> {
    if (state.branch !== null) await git.raw('symbolic-ref', 'HEAD', `refs/heads/${state.branch}`)
    else await git.raw('update-ref', '--no-deref', 'HEAD', state.head!)
    await git.raw('update-ref', '-d', `refs/heads/${branch}`).catch(() => {})
  }

  /** A file as the commit is to have it: what we changed, on the text that the last commit has. Null where that is the same. */
  private async entryFor(git: SimpleGit, { path, before, after }: CommitFile, temp: string): Promise<Entry | null> {
    const full =
      (await git.raw('ls-files', '--full-name', '--', `:(literal)${path}`)).trimEnd() ||
      (await git.raw('rev-parse', '--show-prefix')).trimEnd() + path
    const [mode = '100644', , old = null] = (await git.raw('ls-tree', 'HEAD', '--', `:(literal)${path}`).catch(() => '')).split(/[ \t]/)
    if (old === null && before !== null && (await git.raw('ls-files', '--', `:(literal)${path}`)).trim() === '')
      throw new Refusal(`${path} is not in git yet. Add it there first, or leave its edits out.`)
    const head = old === null ? null : await this.inCommit(git, full)
    const blob = await this.store(git, full, joined(path, before, after, head), temp)
    return blob === old ? null : { path, full, mode: mode || '100644', blob, old, before, after }
  }

  private async store(git: SimpleGit, full: string, bytes: Uint8Array, temp: string): Promise<string> {
    await writeFile(temp, bytes)
    // Line ends and the like as the repository wants them for this path.
    return (await git.raw('hash-object', '-w', `--path=${full}`, '--', temp)).trim()
  }

  /** What the person's own index is to have of a file after the commit: with what they staged. */
  private async stagedBeside(git: SimpleGit, e: Entry, temp: string): Promise<string> {
    const [, staged = null] = (await git.raw('ls-files', '-s', '--', `:(literal)${e.path}`)).split(/[ \t]/)
    if (staged === null || staged === e.old) return e.blob
    const text = (await git.binaryCatFile(['--filters', `:${e.full}`])) as Buffer
    return this.store(git, e.full, joined(e.path, e.before, e.after, text, 'staged'), temp)
  }
}

interface Entry {
  readonly path: string
  /** From the top of the repository. */
  readonly full: string
  readonly mode: string
  readonly blob: string
  readonly old: string | null
  readonly before: Uint8Array | null
  readonly after: Uint8Array
}

// Our change of a file, made on another state of it. @throws Refusal where it meets what is changed there.
function joined(path: string, before: Uint8Array | null, after: Uint8Array, there: Uint8Array | null, state = 'changed'): Uint8Array {
  if (there === null || before === null || Buffer.from(before).equals(there)) return after
  const [base, ours, theirs] = [before, after, there].map((bytes) => decodeSource(new Uint8Array(bytes)))
  const parts = mergeTexts(base.text, ours.text, theirs.text)
  if (conflictsIn(parts))
    throw new Refusal(
      `${path}: the same lines are ${state} in git by somebody else too, and not in the last commit. Commit those first, or leave the edits of this file out.`,
    )
  return encodeSource({ bom: ours.bom, text: mergedText(parts) })
}
