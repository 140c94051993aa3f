import { By, Key } from 'selenium-webdriver'
import { moreOf, SECTIONS } from '../src/studio/tune/properties'
import { CHANGED, Fidelity, type Size } from './fidelity-intents'
import { PROPERTIES } from './values'

/** What there is in Tune to change one property by. */
interface Control {
  readonly property: string
  readonly kind: 'field' | 'radio' | 'list'
  readonly options: readonly string[]
}

/** Edits made as a person makes them: an element pointed at, and a field, button or list of Tune used. */
export class FidelityByControls extends Fidelity {
  protected override readonly addsConditions = false

  protected override async prepare(): Promise<void> {
    for (const title of SECTIONS.flatMap((s) => [s.title, moreOf(s.title)]))
      await this.inStudio('await p.session.selection.unfold(args[0], true)', title)
  }

  protected override async one(page: string, url: string, size: Size): Promise<boolean> {
    const { random, studio } = this
    this.result.edits++
    const at = { x: random.below(size.width), y: random.below(size.height) }
    await this.inStudio('await p.session.selection.pickAt(args[0], args[1])', at.x, at.y)
    const controls = await studio.driver.executeScript<Control[]>(`
      return [...document.querySelectorAll('[data-testid=tune] [data-testid^=row-]')].flatMap((row) => {
        const property = row.dataset.testid.slice(4)
        const radios = [...row.querySelectorAll('[role=radio]:not([aria-checked=true])')].map((r) => r.dataset.value)
        const list = row.querySelector('select[aria-label="' + property + '"]')
        if (radios.length) return [{ property, kind: 'radio', options: radios }]
        if (list) return [{ property, kind: 'list', options: [...list.options].map((o) => o.value).filter((v) => v !== list.value) }]
        return row.querySelector('input[aria-label="' + property + ' value"]') ? [{ property, kind: 'field', options: [] }] : []
      })`)
    const usable = controls.filter((c) => c.kind !== 'field' || c.property in PROPERTIES)
    const before = await this.inStudio<number>('return p.state().ledger.done')
    if (usable.length === 0) return this.refuse(`${page} at ${at.x},${at.y}`, 'nothing to tune', '')
    const control = random.pick(usable)
    const value =
      control.kind === 'field'
        ? PROPERTIES[control.property](random)
            .replace(/var\(--x, /g, 'var(--none, ')
            .replace(/var\(--(x|g|c)\)/g, '9px')
        : random.pick(control.options)
    const what = `${page} at ${at.x},${at.y} ${control.property}: ${value} by ${control.kind}`
    await this.use(control, value)
    // A value that is there already, or that would not count, makes no edit.
    const made = await studio.driver
      .wait(
        async () =>
          (await this.inStudio<boolean>(`
      const { ledger, status, pulling } = p.state(), last = ledger.rows.at(-1)
      return pulling === null && (ledger.done > ${before} ? last.verdict.state !== 'pending' : status?.kind === 'error' || document.querySelector('[role=alert]') !== null)`)) ||
          null,
        5000,
      )
      .then(
        () => true,
        () => false,
      )
    const done = await this.inStudio<number>('return p.state().ledger.done')
    if (!made || done === before)
      return this.refuse(what, (await this.inStudio<string>('return p.state().status?.text ?? ""')) || 'no edit', '')
    const state = await this.inStudio<{ verdict: { state: string }; files: [string, string][] }>(
      `return { verdict: p.state().ledger.rows.at(-1).verdict, files: await ${CHANGED} }`,
    )
    this.serve(state.files)
    this.kinds[control.kind] = (this.kinds[control.kind] ?? 0) + 1
    const shown = await this.dump()
    await this.loadBare(url, await studio.inPage<Size>('return { width: innerWidth, height: innerHeight }'))
    const written = await this.dumpBare()
    const wrong = shown.findIndex((s, i) => s.whole !== written[i]?.whole)
    if (wrong < 0 && shown.length === written.length) this.result.same++
    else if (state.verdict.state !== 'holds') this.result.flagged++
    else {
      this.result.silent++
      this.cases.push(`SILENT ${what}: element ${wrong} ${shown[wrong]?.tag}: ${await this.explain(wrong)}`)
    }
    return true
  }

  private async use(control: Control, value: string): Promise<void> {
    const { driver } = this.studio
    const find = (css: string) => driver.findElement(By.css(`[data-testid="row-${control.property}"] ${css}`))
    if (control.kind === 'field') {
      const field = await find(`input[aria-label="${control.property} value"]`)
      await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
      await field.click()
      await field.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER)
    } else if (control.kind === 'radio') {
      const button = await find(`[role=radio][data-value="${value}"]`)
      await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', button)
      await button.click()
    } else await this.studio.choose(control.property, value)
  }
}
