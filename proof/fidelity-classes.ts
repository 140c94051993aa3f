import { Project } from '../src/core/project'
import { classTokens, openTailwind, tailwindInput } from '../src/core/utility'
import { Fidelity } from './fidelity-intents'
import { librarySheet } from './project-vocabularies'

const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes)

/** Edits that land in class lists: the bare server serves the style sheet that a build of the written files compiles, made from nothing each time. */
export class FidelityOfClasses extends Fidelity {
  protected override readonly kindsWanted = ['class-list']
  protected override readonly addsConditions = false
  private ready = false

  protected override valueFor(property: string, steps: readonly string[], closed: boolean): string {
    return steps.length && (closed || this.random.below(2)) ? this.random.pick(steps) : super.valueFor(property, steps, closed)
  }

  protected override async build(): Promise<void> {
    if (!this.ready) {
      // The index of the vocabulary is read while the page is shown already.
      await this.studio.until('the vocabulary', () =>
        this.studio.driver.executeScript<boolean>('const v = window.steadyProof.state().vocabulary; return v !== null && v.share === 1'),
      )
      this.ready = true
    }
    const paths = [...this.served.keys()]
    const project = new Project(
      paths.filter((p) => /\.(html?|css)$/i.test(p)).map((path, i) => ({ key: i + 1, path, bytes: this.served.get(path)! })),
    )
    const input = tailwindInput(project, paths)
    if (!input) return
    const { tailwind } = await openTailwind(input, {
      own: (path) => (this.served.has(path) ? text(this.served.get(path)!) : null),
      library: librarySheet,
    })
    if (!tailwind) return
    const css = tailwind.compile(new Set(project.pages().flatMap((p) => [...classTokens(project.text(p))])))
    // A held state is shown as to a pointer that can hover, which the headless browser does not say it has.
    this.served.set(input.target, new TextEncoder().encode(css.replaceAll('@media (hover: hover)', '@media all')))
    if (input.linked) return
    for (const page of project.pages()) {
      const html = project.text(page)
      if (html.includes(`href="/${input.target}"`)) continue
      const head = /<head[^>]*>/i.exec(html)
      const at = head ? head.index + head[0].length : 0
      this.served.set(
        page,
        new TextEncoder().encode(`${html.slice(0, at)}<link rel="stylesheet" href="/${input.target}">${html.slice(at)}`),
      )
    }
  }
}
