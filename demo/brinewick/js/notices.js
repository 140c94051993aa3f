import { remember, recall } from './memory.js'

const dismissed = new Set(recall('dismissed') ?? [])

for (const notice of document.querySelectorAll('.notice')) {
  const id = notice.dataset.notice
  notice.hidden = dismissed.has(id)
  notice.querySelector('[data-dismiss]').addEventListener('click', () => {
    dismissed.add(id)
    notice.hidden = true
    remember('dismissed', [...dismissed])
  })
}
