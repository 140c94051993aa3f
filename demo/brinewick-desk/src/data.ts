export interface Crossing {
  readonly boat: string
  readonly to: string
  readonly leaves: string
  readonly seats: number
  readonly taken: number
}

export const CROSSINGS: readonly Crossing[] = [
  { boat: 'Petrel', to: 'Skerry Point', leaves: '07:10', seats: 80, taken: 62 },
  { boat: 'Dunlin', to: 'Marram', leaves: '08:40', seats: 40, taken: 12 },
  { boat: 'Petrel', to: 'Skerry Point', leaves: '11:25', seats: 80, taken: 77 },
  { boat: 'Turnstone', to: 'Outer Holm', leaves: '15:00', seats: 24, taken: 9 },
]

export interface Fare {
  readonly name: string
  readonly price: number
  readonly note: string
  readonly isNew?: boolean
}

export const FARES: readonly Fare[] = [
  { name: 'Single', price: 6.5, note: 'Any crossing on one day' },
  { name: 'Day return', price: 11, note: 'Out and back before the last boat', isNew: true },
  { name: 'Bicycle', price: 3, note: 'With any fare, six on each boat' },
  { name: 'Islander', price: 48, note: 'Ten crossings, for those who live there' },
]
