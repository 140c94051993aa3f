const key = (name) => `brinewick.${name}`

export const remember = (name, value) => localStorage.setItem(key(name), JSON.stringify(value))
export const recall = (name) => JSON.parse(localStorage.getItem(key(name)) ?? 'null')
