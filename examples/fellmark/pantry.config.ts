import { choice, date, flag, group, int, list, number, pantry, ref, text, url } from 'zinc-pantry'

/** Decimal degrees, as on the association's maps. */
const position = group({
  latitude: number({ minimum: -90, maximum: 90 }),
  longitude: number({ minimum: -180, maximum: 180 }),
})

/** What every page in a list shows. */
const listed = {
  title: text({ minLength: 3, maxLength: 80 }),
  summary: text({ maxLength: 200, description: 'One or two sentences, shown in lists' }),
}

export default pantry({
  collections: {
    regions: {
      files: 'regions.yaml',
      entry: 'Region',
      description: 'A part of the Fellmark with an office of its own',
      fields: {
        name: text(),
        summary: text({ maxLength: 200 }),
        area: number({ exclusiveMinimum: 0, description: 'Square kilometres' }),
        centre: position,
        neighbours: list(ref('regions'), { uniqueItems: true }),
      },
    },
    terrains: {
      files: 'terrains.json',
      entry: 'Terrain',
      description: 'What is underfoot',
      fields: { name: text(), advice: text() },
    },
    seasons: {
      files: 'seasons.json',
      entry: 'Season',
      description: 'The four walking seasons',
      fields: { name: text(), months: list(int({ minimum: 1, maximum: 12 }), { minItems: 1, uniqueItems: true }) },
    },
    wardens: {
      files: 'wardens/*.json',
      entry: 'Warden',
      description: 'People who look after huts and paths',
      fields: {
        name: text(),
        role: choice(['head warden', 'hut warden', 'path warden']),
        region: ref('regions'),
        since: date(),
        languages: list(choice(['en', 'cy', 'gd', 'no']), { minItems: 1 }),
        radio: int({ minimum: 1, maximum: 40, optional: true, description: 'Channel, where the warden carries one' }),
        trainedBy: ref('wardens', { optional: true }),
      },
    },
    huts: {
      files: 'huts/*.yaml',
      entry: 'Hut',
      description: 'A place to sleep, reached on foot',
      fields: {
        name: text(),
        region: ref('regions'),
        elevation: int({ minimum: 0, description: 'Metres above the sea' }),
        beds: int({ minimum: 0, maximum: 60 }),
        position,
        wardens: list(ref('wardens'), { minItems: 1, uniqueItems: true }),
        facilities: list(choice(['stove', 'drying room', 'library', 'emergency phone', 'bike store']), { default: [] }),
        water: group({
          source: choice(['tap', 'spring', 'beck', 'rain tank']),
          drinkable: flag({ default: true }),
          seasons: list(ref('seasons'), { optional: true, description: 'When it runs; all year where empty' }),
        }),
        booking: url({ optional: true }),
      },
    },
    trails: {
      files: 'trails/**/*.md',
      entry: 'Trail',
      description: 'A way-marked walk from hut to hut',
      body: true,
      fields: {
        ...listed,
        region: ref('regions'),
        grade: choice(['easy', 'moderate', 'hard']),
        distance: number({ exclusiveMinimum: 0, description: 'Kilometres' }),
        ascent: int({ minimum: 0, description: 'Metres' }),
        terrains: list(ref('terrains'), { minItems: 1, uniqueItems: true }),
        seasons: list(ref('seasons'), { minItems: 1 }),
        legs: list(
          group({ hut: ref('huts'), hours: number({ minimum: 0, maximum: 12 }), note: text({ optional: true }) }),
          { minItems: 1 },
        ),
        opened: date({ optional: true }),
        draft: flag({ default: false }),
      },
    },
    notices: {
      files: 'notices/*.md',
      entry: 'Notice',
      description: 'News that matters on the day',
      body: true,
      fields: {
        title: text({ minLength: 3, maxLength: 80 }),
        severity: choice(['info', 'care', 'closed']),
        author: ref('wardens'),
        starts: date(),
        expires: date({ optional: true }),
        trails: list(ref('trails'), { default: [] }),
        huts: list(ref('huts'), { default: [] }),
      },
    },
    gear: {
      files: 'gear/*.md',
      entry: 'Gear',
      description: 'Advice on what to carry',
      body: true,
      fields: {
        ...listed,
        kind: choice(['clothing', 'footwear', 'navigation', 'shelter', 'safety']),
        weight: int({ minimum: 1, optional: true, description: 'Grams' }),
        seasons: list(ref('seasons'), { minItems: 1 }),
        terrains: list(ref('terrains'), { default: [] }),
        testedOn: group({ trail: ref('trails'), by: ref('wardens'), on: date() }, { optional: true }),
      },
    },
  },
})
