/** A site of one page with 5,000 elements and a sheet of 10,000 rules, the same at each run. */
export function benchSite(elements = 5000, rules = 10000): { html: string; css: string } {
  let seed = 42
  const random = (n: number) => {
    seed = (seed * 1103515245 + 12345) & 0x7fffffff
    return seed % n
  }
  const cards: string[] = []
  for (let i = 0; i < elements / 5; i++) {
    // A part that stands in few places, as most do.
    const part = i % 90 === 0 ? ' panel' : ''
    cards.push(
      `<article class="card${part} k${i % 400} u${random(300)}"><h3 class="title t${random(300)}">Berth ${i}</h3><p class="text"><b class="num n${random(200)}">${i}</b><span class="unit">m</span></p></article>`,
    )
  }
  const properties = [
    'color: #123456',
    'margin: 0 0 4px',
    'padding: 2px',
    'font-size: 14px',
    'background: #fafafa',
    'border: 1px solid #ddd',
    'line-height: 1.4',
    'letter-spacing: 0',
  ]
  const lines: string[] = ['.card { padding: 8px 12px; color: #222; }']
  for (let i = 1; i < rules; i++) {
    const selector = [
      `.k${random(400)} .t${random(300)}`,
      `.u${random(300)}`,
      `.card.k${random(400)} > .text`,
      `.page${random(5000)} .x${i}`,
      `.num.n${random(200)}:hover`,
      `article.u${random(300)} h3`,
    ][i % 6]
    if (i === rules / 2) lines.push('.panel { padding: 8px 12px; }')
    else lines.push(`${selector} { ${properties[random(properties.length)]}; }`)
  }
  return {
    html: `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Bench</title><link rel="stylesheet" href="bench.css"></head><body>\n${cards.join('\n')}\n</body></html>`,
    css: lines.join('\n'),
  }
}

/** The same page styled with utility classes besides, without the sheet that a build would make of them. */
export function benchClassSite(): { html: string; css: string; input: string } {
  const { html, css } = benchSite()
  const lists = ['rounded-lg border border-sky-200 bg-white p-4 text-sm', 'rounded-md bg-sky-50 px-4 py-2 md:p-6 hover:shadow-md']
  let n = 0
  const styled = html.replace(/class="card/g, () => `class="${lists[n++ % 2]}${n === 3 ? ' pulled' : ''}`)
  return {
    html: styled.replace('<link', '<link rel="stylesheet" href="out.css"><link'),
    css,
    input: '@import "tailwindcss";\n',
  }
}
