import { remember, recall } from './memory.js'

const rows = [...document.querySelectorAll('.timetable tbody tr')]
const buttons = [...document.querySelectorAll('[data-filter]')]
const count = document.querySelector('#count')

function show(days) {
  for (const row of rows) row.hidden = days !== 'all' && row.dataset.days !== days
  for (const button of buttons) button.setAttribute('aria-pressed', String(button.dataset.filter === days))
  const shown = rows.filter((row) => !row.hidden).length
  // A tag of its own, so that the number can be read out alone.
  count.innerHTML = `<strong class="shown">${shown}</strong> boats shown`
  remember('days', days)
}

for (const button of buttons) button.addEventListener('click', () => show(button.dataset.filter))
show(recall('days') ?? 'all')
