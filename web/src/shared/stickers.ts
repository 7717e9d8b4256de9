/** Stickers that tell phones apart: colour, shape and name, offered in this order. */
export const colours = ['green', 'amber', 'blue', 'red', 'violet', 'grey'] as const
export const shapes = ['triangle', 'circle', 'square', 'diamond'] as const
const names = ['PINE', 'AMBER', 'SLATE', 'BRICK', 'HEATHER', 'STONE']

/** What is offered for the next phone of a study that has so many. */
export const nextSticker = (count: number) => ({
  role: count ? ('donor' as const) : ('specimen' as const),
  name: names[count] ?? '',
  colour: colours[count % 6]!,
  shape: shapes[count % 4]!,
  build: '',
  storage_gb: 128,
})
