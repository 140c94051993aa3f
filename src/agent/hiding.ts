/** Takes elements off the page for now. Their own `style` is given back as it was. */
export class Hiding {
  private readonly hidden = new Map<Element, string | null>()

  hide(elements: readonly Element[]): void {
    for (const [e, style] of this.hidden) {
      if (elements.includes(e)) continue
      if (style === null) e.removeAttribute('style')
      else e.setAttribute('style', style)
      this.hidden.delete(e)
    }
    for (const e of elements) {
      if (this.hidden.has(e) || !('style' in e)) continue
      this.hidden.set(e, e.getAttribute('style'))
      ;(e as HTMLElement).style.setProperty('display', 'none', 'important')
    }
  }
}
