const dialog = document.querySelector('#confirm')

document.querySelector('#review').addEventListener('click', () => {
  if (document.querySelector('.booking').reportValidity()) dialog.showModal()
})
