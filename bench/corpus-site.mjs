// The configuration of the generated corpus, as a site's own would be.
import { date, flag, group, list, number, pantry, text } from '../packages/zinc-pantry/dist/bundle/index.js'

/** @param {string} ending @param {object} [settings] */
export const corpusSite = (ending, settings = {}) =>
  pantry({
    content: 'notes',
    ...settings,
    collections: {
      notes: {
        files: `**/*.${ending}`,
        entry: 'Note',
        slug: 'slug',
        body: true,
        address: 'url',
        fields: {
          title: text({ minLength: 1 }),
          description: text({ maxLength: 400 }),
          date: date(),
          updated: text({ pattern: '^\\d{4}-\\d\\d-\\d\\dT[\\d:]+Z$' }),
          draft: flag({ default: false }),
          warden: text(),
          tags: list(text(), { minItems: 1 }),
          rating: number({ minimum: 0, maximum: 5 }),
          related: list(group({ entry: text(), remark: text(), labels: list(text()) })),
        },
        derive: { url: { field: text(), from: ({ slug }) => `/notes/${slug}/` } },
      },
    },
  })
