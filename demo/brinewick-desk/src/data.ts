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

export interface Tide {
  readonly at: string
  readonly height: number
  readonly isHigh: boolean
}

export const TIDES: readonly Tide[] = [
  { at: '02:14', height: 1.1, isHigh: false },
  { at: '08:31', height: 4.6, isHigh: true },
  { at: '14:40', height: 0.8, isHigh: false },
  { at: '20:52', height: 4.9, isHigh: true },
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
