import type { entryCodes } from '../catalogue/entries.ts'
import type { Explanations } from './explanation.ts'

/** The meanings of the codes of entries and of the connections between them, with a wrong and a right text. */
export const entryExplanations: Explanations<typeof entryCodes> = {
  'entry-not-group': ['An entry is a group of keys with values.', 'just words', 'name: Gable Hut'],
  'entry-list-unexpected': [
    'A file holds a list, but its collection has one entry a file.',
    '- name: Gable\n- name: Ford',
    "perFile: 'many'   // in the collection",
  ],
  'entry-list-expected': [
    'A file of many entries holds a list, or a map whose keys are the ids.',
    '"words"',
    '[{ "id": "gable", "name": "Gable" }]',
  ],
  'entry-records-missing': [
    'The setting records is a JSON Pointer to the entries in a file; this file has nothing there.',
    'records: \'/data/items\'   // { "items": [] }',
    "records: '/items'",
  ],
  'entry-id-missing': [
    'An item of a list must say its id, under the key id or the one that the setting id names.',
    '- name: Gable',
    '- id: gable\n  name: Gable',
  ],
  'entry-id-invalid': ['An id is text, and not empty. A number counts as it is written.', 'id: [gable]', 'id: gable'],
  'id-duplicate': [
    'References go by id, so that no two entries of a collection may have the same.',
    '- id: gable\n- id: gable',
    '- id: gable\n- id: gable-annex',
  ],
  'slug-duplicate': [
    'Slugs become addresses, so that no two entries may have the same; two ids that differ in case or signs may give one slug.',
    'Red Deer.yaml\nred-deer.yaml',
    'red-deer.yaml\nred-deer-hut.yaml',
  ],
  'former-address-invalid': [
    'Former addresses are paths from the root of the site, without a host, a query or a fragment.',
    'formerly: [gable.html]',
    'formerly: [/gable.html]',
  ],
  'former-address-taken': [
    'A former address leads to the page that had it. It may be that of no page of today, nor one that another page had.',
    'formerly: [/huts/gable/]   # the page of another hut',
    'formerly: [/shelters/gable/]',
  ],
  'label-near': [
    'Labels that writers choose freely, or entries that references create, differ only in case, spaces, accents or a plural "s". A reader takes them for one, a query does not.',
    'tags: [Rope]\ntags: [ropes]',
    'tags: [rope]\ntags: [rope]',
  ],
  'slug-invalid': [
    'A slug becomes the end of an address and the name of a page, so that it may not lead to another folder.',
    '[{ "id": "../../huts" }]',
    '[{ "id": "huts" }]',
  ],
  'body-dropped': [
    'Files have text below their front matter, but their collection does not keep it.',
    "trails: { files: 'trails/*.md', fields: { … } }",
    "trails: { files: 'trails/*.md', body: true, fields: { … } }",
  ],
  'output-unwritable': [
    'The generated folder cannot be written. What was there before is unchanged.',
    'a full disk',
    'output to a folder with room',
  ],
  'output-foreign': [
    'The output folder holds a file of that name which no build wrote; only files that a build wrote are replaced.',
    "output: 'public'   // with a manifest.json of the site itself",
    "output: 'generated/pantry'",
  ],
  'ref-dangling': [
    'A reference leads to no entry. Entries that were renamed or deleted leave such references behind.',
    'hut: gabel',
    'hut: gable',
  ],
  'ref-implicit-near': [
    'A reference made an entry, as createFrom allows, whose name is a letter or two from that of another entry.',
    'tags: [tarnside]   # beside the entry tarn-side',
    'tags: [tarn-side]',
  ],
  'ref-target-failed': [
    'A reference leads to an entry in a file that could not be read. It is no mistake of its own.',
    'hut: gable   # huts/gable.yaml has a syntax error',
    'hut: gable   # huts/gable.yaml is mended',
  ],
  'ref-ambiguous': [
    'A reference to one of several collections fits entries of more than one.',
    'about: north',
    'about: regions/north',
  ],
  'ref-unpublished': [
    'What is seen refers to what is not: a draft, or an entry before or after its time.',
    'next: secret-walk   # draft: true',
    'next: public-walk',
  ],
  'value-duplicate': [
    'A field, or a combination of fields, is declared unique, and two entries have the same value.',
    'code: A1   # in two files',
    'code: A1   # in one\ncode: A2   # in the other',
  ],
  'tree-cycle': [
    'A collection is declared a tree, but following the parents comes back to where it began.',
    'a: { parent: b }\nb: { parent: a }',
    'a: { }\nb: { parent: a }',
  ],
  'single-missing': [
    'A collection is declared to have exactly one entry, and no file gives it.',
    "front: { files: 'front.yaml', single: true }   // no such file",
    'content/front.yaml',
  ],
  'single-several': [
    'A collection is declared to have exactly one entry, and there is another.',
    "files: 'front/*.yaml'   // matches two",
    "files: 'front/page.yaml'",
  ],
  'derive-failed': [
    'The function of a derived field threw an error for this entry.',
    'from: (hut) => hut.name.split(" ")[1].trim()',
    'from: (hut) => hut.name.split(" ")[1]?.trim() ?? ""',
  ],
  'derive-invalid': [
    'A derived field is declared like any field; the value that its function gave breaks the declaration.',
    'field: text({ maxLength: 5 }), from: () => "too long"',
    'field: text({ maxLength: 80 }), from: () => "too long"',
  ],
  'derive-cycle': [
    'Derived fields may read each other, but not so that one waits for itself.',
    'a from b, b from a',
    'a from name, b from a',
  ],
  'derive-private': [
    'A derived field that is not private gives the value of a private field as it is, which would publish it.',
    "phone: text({ private: true }) … derive: { line: { field: text(), from: (one) => 'Call ' + one.phone } }",
    "line: { field: text({ private: true }), from: (one) => 'Call ' + one.phone }",
  ],
  'rule-failed': [
    'A rule threw an error instead of reporting a problem, or reported one with a code that cannot be used.',
    'rules: [(hut) => hut.missing.length]',
    "rules: [(hut, { report }) => hut.beds > 9 && report('beds', { code: 'hut-large', … })]",
  ],
  'site-rule': [
    'A rule of the site reported this problem; the code and the words are its own.',
    '(as the rule says)',
    '(as the rule says)',
  ],
  'locale-missing': [
    'An entry is there in one language but not in all. The first language stands in for the others.',
    'gable.md',
    'gable.md\ngable.no.md',
  ],
  'locale-stale': [
    'A version in another language has an earlier date than the original, so that it may be out of date.',
    'updated: 2026-05-01   # original: 2026-06-30',
    'updated: 2026-07-02',
  ],
  'locale-unknown': [
    'The name of a file says a language that the site does not have.',
    'gable.de.md',
    "locales: ['en', 'no', 'de']",
  ],
  'field-computed': [
    'A field is computed, from other fields or from references to this entry, and cannot be written.',
    'trails: [high]',
    '(no such key)',
  ],
  'field-deprecated': ['A field still works, but new content should not use it.', 'old_name: Gable', 'name: Gable'],
  'block-unnamed': [
    'A list of blocks needs a key in each item that says which block it is.',
    '- title: Views',
    '- block: gallery\n  title: Views',
  ],
  'block-unknown': [
    'An item says a block that is not allowed here, mostly a misspelt one.',
    '- block: gallry',
    '- block: gallery',
  ],
  'validator-issue': [
    'A validator of another library refused the value; the words are its own.',
    '(as the validator says)',
    '(as the validator says)',
  ],
  'validator-failed': [
    'A validator of another library threw an error, is asynchronous, or gave a value that JSON cannot hold.',
    'an async validator',
    'a synchronous one',
  ],
  'field-unknown': [
    'A key is no field of its collection: mostly a misspelt one, which would be lost in silence.',
    'sumary: Two days',
    'summary: Two days',
  ],
  'field-missing': [
    'A field that is neither optional nor has a default is not there.',
    'beds: 24',
    'name: Gable Hut\nbeds: 24',
  ],
  'field-empty': ['A field that is neither optional nor has a default has no value.', 'name:', 'name: Gable Hut'],
}
