/** The apiaries of the co-operative: code, name, landscape and latitude. */
export const YARDS = [
  ['LM', 'Lower Meadow', 'valley', 51.21],
  ['OQ', 'Old Quarry', 'ridge', 51.34],
  ['BF', 'Birch Ford', 'valley', 51.18],
  ['HR', 'Heron Reach', 'water', 51.09],
  ['TC', 'Thistle Croft', 'ridge', 51.4],
  ['SW', 'Stone Weir', 'water', 51.12],
  ['AF', 'Amber Fold', 'valley', 51.25],
  ['KN', 'Kestrel Nook', 'ridge', 51.47],
  ['PL', 'Pale Lane', 'valley', 51.2],
  ['GB', 'Gorse Bank', 'ridge', 51.38],
  ['MW', 'Mill Wood', 'water', 51.15],
  ['CE', 'Clover End', 'valley', 51.23],
] as const
