import { choice, date, int, pantry, ref, text } from 'zinc-pantry'

export default pantry({
  collections: {
    huts: { files: 'huts.json', entry: 'Hut', fields: { name: text(), beds: int({ minimum: 0 }) } },
    trails: {
      files: 'trails.json',
      entry: 'Trail',
      fields: { title: text(), grade: choice(['easy', 'moderate', 'hard']) },
    },
    notes: {
      files: 'notes/*.json',
      perFile: 'many',
      entry: 'LogNote',
      description: 'What walkers wrote in the books of the huts',
      search: { text: 2, 'hut.name': 1, 'trail.title': 1 },
      order: '-on',
      clustered: ['on', '-stars,-on'],
      fields: {
        hut: ref('huts'),
        trail: ref('trails'),
        on: date(),
        weather: choice(['sun', 'cloud', 'fog', 'rain', 'snow', 'wind']),
        stars: int({ minimum: 1, maximum: 5 }),
        party: int({ minimum: 1, maximum: 12 }),
        text: text(),
      },
    },
  },
})
