import type { configurationCodes } from '../catalogue/configuration.ts'
import type { Explanations } from './explanation.ts'

/** The meanings of the codes of the configuration, with a wrong and a right text. */
export const configurationExplanations: Explanations<typeof configurationCodes> = {
  'config-not-found': [
    'The command needs a configuration: pantry.config.ts (or .mts, .js, .mjs) in the working folder or one above it, or in the folder that --root names.',
    'zinc-pantry check            # in a folder without one',
    'zinc-pantry check --root my-site',
  ],
  'config-default-dangling': [
    'The default of a reference names an entry that is not there.',
    "hut: ref('huts', { default: 'gabel' })",
    "hut: ref('huts', { default: 'gable' })",
  ],
  'config-package-missing': [
    'A setting needs a package that sites without it need not install.',
    'highlight: true   // without the package lowlight',
    'npm install lowlight',
  ],
  'config-import-missing': [
    'The configuration imports a file that is not there, or a package that is not installed.',
    "import { shared } from './shraed.ts'",
    "import { shared } from './shared.ts'",
  ],
  'config-export-unknown': [
    'The configuration imports a name that the package does not have.',
    "import { pantry, textt } from 'zinc-pantry'",
    "import { pantry, text } from 'zinc-pantry'",
  ],
  'config-syntax': [
    'The configuration, or a file that it imports, is no TypeScript or JavaScript, or imports what is not there.',
    "import { shared } from './shard.ts'",
    "import { shared } from './shared.ts'",
  ],
  'config-failed': [
    'The configuration was read, but threw an error while it ran. The place is the line that threw, where it lies in a file of the site.',
    'const names = settings.names.map(String)   // settings.names is undefined',
    'const names = (settings.names ?? []).map(String)',
  ],
  'config-plugin-failed': [
    'A plugin for bodies threw an error when it was added to its engine.',
    'markdownPlugins: [[anchors, { level: null }]]',
    'markdownPlugins: [[anchors, { level: 2 }]]',
  ],
  'config-not-pantry': [
    'The configuration must have as its default export what pantry() gives.',
    'export default { collections: { … } }',
    'export default pantry({ collections: { … } })',
  ],
  'config-setting-unknown': [
    'A setting or an option has a name that does not exist, mostly a misspelt one.',
    'text({ maxlength: 80 })',
    'text({ maxLength: 80 })',
  ],
  'config-setting-invalid': [
    'A setting has a value of the wrong type, or one that cannot work.',
    'huts: { files: [], fields: { … } }',
    "huts: { files: 'huts/*.yaml', fields: { … } }",
  ],
  'config-name-invalid': [
    'Names of collections, blocks and types become names in generated code, so they must be identifiers and no reserved words.',
    "collections: { 'my trails': { … } }",
    'collections: { myTrails: { … } }',
  ],
  'config-name-taken': [
    'Two collections would give their entries a type of the same name.',
    "huts: { entry: 'Place', … }, peaks: { entry: 'Place', … }",
    "huts: { entry: 'Hut', … }, peaks: { entry: 'Peak', … }",
  ],
  'config-key-twice': [
    'Two fields of one group would be read from the same key, or two maps would take all keys that are left.',
    "{ height: number({ writtenAs: 'Height' }), metres: number({ writtenAs: 'Height' }) }",
    "{ height: number({ writtenAs: 'Height' }) }",
  ],
  'config-field-reserved': [
    'Every entry has id, slug, collection, locale, source and body from the engine, and query handles have operators of their own; no field may have such a name.',
    'fields: { source: text() }',
    "fields: { origin: text({ writtenAs: 'source' }) }",
  ],
  'config-hints-invalid': [
    'Where a site declares the hints of its fields, those of every field are checked by that.',
    "hints: { width: choice(['half', 'full']) }   // text({ hints: { width: 'wide' } })",
    "text({ hints: { width: 'full' } })",
  ],
  'history-missing': [
    'A field asks for the first or last change of its file, and the content is in no folder under version control, or git is not installed.',
    "fields: { changed: history('last') }",
    "fields: { changed: history('last', { from: 'either' }) }",
  ],
  'history-shallow': [
    'The clone that the content is in was cut off, so that version control knows only the last changes of a file.',
    'git clone --depth 1 …',
    'git clone …',
  ],
  'config-pattern-invalid': [
    'A pattern is no ECMAScript regular expression with the u flag.',
    "text({ pattern: '(' })",
    "text({ pattern: '^[a-z]+$' })",
  ],
  'config-range-empty': [
    'A lower limit is above the upper one, so that no value could ever fit.',
    'int({ minimum: 10, maximum: 5 })',
    'int({ minimum: 5, maximum: 10 })',
  ],
  'config-ref-unknown': [
    'A reference leads to a collection that the configuration does not have.',
    "region: ref('region')",
    "region: ref('regions')",
  ],
  'config-default-invalid': [
    'A default must pass the rules of its own field, since entries without a value will have it.',
    'beds: int({ maximum: 10, default: 12 })',
    'beds: int({ maximum: 10, default: 4 })',
  ],
  'config-block-unknown': [
    'A field allows a block that is not declared under blocks.',
    "panels: list(block('gallry'))",
    "blocks: { gallery: { fields: { … } } }, … panels: list(block('gallery'))",
  ],
  'config-field-twice': [
    'A derived field has the name of a field that writers fill in.',
    'fields: { url: text() }, derive: { url: { … } }',
    'fields: { website: text() }, derive: { url: { … } }',
  ],
  'config-field-unfit': [
    'A setting names a field that does not exist, or is of a kind that the setting cannot use.',
    "publication: { draft: 'title' }",
    "publication: { draft: 'draft' }, fields: { draft: flag({ default: false }), … }",
  ],
  'config-field-loosened': [
    'A use of a shared field allows what the shared field refuses. Code that reads the shared field may count on its promise.',
    'title: adapt(listed.title, { maxLength: 200 })   // shared: 80',
    'title: adapt(listed.title, { maxLength: 60 })',
  ],
  'config-create-incomplete': [
    'With createFrom, entries are made with a text in one field and nothing else; all other fields must do without a value.',
    "createFrom: 'name', fields: { name: text(), colour: colour() }",
    "createFrom: 'name', fields: { name: text(), colour: colour({ optional: true }) }",
  ],
  'config-variant-twice': [
    'One variant field tells the shapes of a set of fields apart. A second one would multiply them.',
    'fields: { kind: variant({ … }), form: variant({ … }) }',
    'fields: { kind: variant({ … }), part: group({ form: variant({ … }) }) }',
  ],
  'config-reverse-unknown': [
    'A reverse field reads a reference backwards; its path must lead to a reference to this collection, with dots through groups and lists.',
    "trails: reverse('trails', 'hut')",
    "trails: reverse('trails', 'legs.hut')",
  ],
  'config-code-unknown': [
    'The setting severities names a code that does not exist.',
    "severities: { 'field-unknwon': 'warning' }",
    "severities: { 'field-unknown': 'warning' }",
  ],
  'config-severity-fixed': [
    'An entry with this error has no value to compile, so that it cannot become a warning.',
    "severities: { 'field-missing': 'warning' }",
    'name: text({ optional: true })',
  ],
  'config-glob-invalid': [
    'Patterns of files are relative to the content folder and stay inside of it.',
    "files: '../huts/*.yaml'",
    "files: 'huts/*.yaml'",
  ],
  'config-file-shared': [
    'Two collections would read one file, so that its entries would be there twice.',
    "huts: { files: 'places/*.yaml' }, peaks: { files: 'places/*.yaml' }",
    "huts: { files: 'places/huts/*.yaml' }, peaks: { files: 'places/peaks/*.yaml' }",
  ],
  'config-folder-missing': ['The content folder does not exist.', "content: 'contents'", "content: 'content'"],
  'config-collection-empty': [
    'No file matches the patterns of a collection, mostly because of a misspelt folder or ending.',
    "files: 'trials/*.md'",
    "files: 'trails/*.md'",
  ],
}
