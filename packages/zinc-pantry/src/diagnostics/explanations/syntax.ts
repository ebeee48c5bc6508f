import type { syntaxCodes } from '../catalogue/syntax.ts'
import type { Explanations } from './explanation.ts'

/** The meanings of the codes of texts, with a wrong and a right text. */
export const syntaxExplanations: Explanations<typeof syntaxCodes> = {
  'file-unreadable': [
    'A file or folder of the content cannot be read.',
    'chmod 000 huts/gable.yaml',
    'chmod 644 huts/gable.yaml',
  ],
  'file-too-large': [
    'A content file is larger than what is read, so that one file cannot exhaust memory.',
    'one file of 40 MB',
    'several files of a few MB',
  ],
  'file-link-stray': [
    'A symbolic link leads out of the content folder, or in a circle. It is not followed, since content must not reach other files.',
    'huts/shared.yaml → ../../secret.yaml',
    'huts/shared.yaml as a file',
  ],
  'file-name-unportable': [
    'The path of a content file has something in it that not every operating system allows, so that not everybody can check the site out.',
    'huts/what?.yaml',
    'huts/what.yaml',
  ],
  'file-format-unknown': [
    'A collection matches a file whose ending has no reader.',
    "files: 'huts/**'   // matches huts/plan.pdf",
    "files: 'huts/**/*.yaml'",
  ],
  'file-unmatched': [
    'A file of a known format lies beside those of a collection, but its ending is none that the collection reads.',
    "files: 'seeds/*.md'   // and seeds/oak.mdx",
    "files: 'seeds/*.{md,mdx}'",
  ],
  'text-encoding': [
    'Content is UTF-8, with or without a byte order mark.',
    'a file saved as Latin-1 or UTF-16',
    'the same file saved as UTF-8',
  ],
  'source-unreachable': [
    'A collection is fetched from an address where nobody answers. With a kept answer this is a warning, and the kept one is used.',
    "from: remote('http://127.0.0.1:1/')",
    "from: remote('https://api.example.org/huts')",
  ],
  'source-status': [
    'A collection is fetched, and the answer says that something is wrong. With a kept answer this is a warning.',
    'HTTP 404',
    'HTTP 200',
  ],
  'source-unexpected': [
    'The answer of a source does not have a value that the configuration requires.',
    'require: { \'/status\': \'ok\' }   // { "status": "error" }',
    '{ "status": "ok", "items": [] }',
  ],
  'source-variable': [
    'A header of a source names a variable of the environment that is not set.',
    "headers: { Authorization: 'Bearer $TOKEN' }",
    'TOKEN=secret zinc-pantry check',
  ],
  'source-header': [
    'A header of a request has a character that none may have; mostly a variable of the environment ends with a line break.',
    "API_TOKEN=$(cat token.txt; echo)   // headers: { Authorization: 'Bearer $API_TOKEN' }",
    'API_TOKEN="$(cat token.txt)"',
  ],
  'source-failed': [
    'A function that gives the entries of a collection threw an error, or gave what JSON cannot hold.',
    'from: () => { throw new Error() }',
    "from: () => [{ id: 'gable' }]",
  ],
  'front-matter-unclosed': [
    'Front matter is opened in the first line but no line closes it, so that nobody can tell where the body starts.',
    '---\ntitle: Gable\n\nThe body',
    '---\ntitle: Gable\n---\n\nThe body',
  ],
  'front-matter-missing': [
    'A file has no front matter, and its collection has fields that every entry must have.',
    '# Gable Hut',
    '---\nname: Gable Hut\n---\n# Gable Hut',
  ],
  'front-matter-misplaced': [
    'Front matter counts only from the very first line; below empty lines it would be part of the body.',
    '(an empty line)\n---\ntitle: Gable\n---',
    '---\ntitle: Gable\n---',
  ],
  'yaml-tab': [
    'YAML allows only spaces at the start of a line.',
    'position:\n→latitude: 54.7',
    'position:\n  latitude: 54.7',
  ],
  'yaml-colon': [
    'A colon with a space after it starts a value, so that a text with one in it must be quoted.',
    'title: Gable: the spring',
    "title: 'Gable: the spring'",
  ],
  'yaml-duplicate-key': [
    'A key stands twice in one mapping. YAML forbids it, since one of the two values would be lost.',
    'beds: 12\nbeds: 14',
    'beds: 14',
  ],
  'yaml-too-large': [
    'Aliases repeat a value. Aliases of aliases can make a small file fill the memory, so there is a limit.',
    'a: &a [x, x]\nb: &b [*a, *a]\n… many times over',
    'a: [x, x]',
  ],
  'yaml-too-deep': ['Values are nested deeper than anything that people write.', '[[[[ … ]]]]', '[a, b]'],
  'yaml-tag': ['A value has an explicit tag that it does not fit.', 'beds: !!int twelve', 'beds: 12'],
  'yaml-tag-unknown': [
    'A value has a tag of another program, which says nothing here; the value is read as it is written.',
    'opened: !r Sys.Date()',
    'opened: 2026-05-01',
  ],
  'yaml-syntax': [
    'The text is no YAML. The place is where the parser stopped; the mistake may be a line above.',
    'tags: [a, b',
    'tags: [a, b]',
  ],
  'toml-syntax': ['The text is no TOML. The place is where the parser stopped.', 'title = "Gable', 'title = "Gable"'],
  'toml-duplicate-key': ['A key or table stands twice.', 'beds = 12\nbeds = 14', 'beds = 14'],
  'toml-too-deep': ['Values are nested deeper than anything that people write.', 'a = [[[[ … ]]]]', 'a = [1, 2]'],
  'csv-quote': [
    'A cell is opened by a quote that nothing closes, so that the rest of the file is one cell.',
    'one,"Gable',
    'one,"Gable"',
  ],
  'csv-heading-empty': [
    'Every column needs a name in the first line; a cell without one belongs to no field.',
    'id,,beds',
    'id,name,beds',
  ],
  'csv-heading-deep': [
    'Dots in a heading lead into groups; so deep nobody can mean it.',
    'id,a.a.a.a.a.a.a.a.…\nx,1',
    'id,a.b\nx,1',
  ],
  'csv-heading-twice': [
    'Two columns have one name, so that one of two cells would be lost.',
    'id,name,name',
    'id,name,label',
  ],
  'csv-row-long': [
    'A row has more cells than the first line has names, mostly because a delimiter in a text is not quoted.',
    'id,name\n1,Gable, the hut',
    'id,name\n1,"Gable, the hut"',
  ],
  'json-trailing-comma': [
    'JSON has no comma after the last item. The values around it are read all the same.',
    '{ "beds": 24, }',
    '{ "beds": 24 }',
  ],
  'json-comment': [
    'JSON has no comments. Files that end in .jsonc may have them.',
    '{ "beds": 24 } // since 1937',
    '{ "beds": 24 }',
  ],
  'json-duplicate-key': [
    'A key stands twice in one object. Every engine takes the last one, and the other is lost.',
    '{ "beds": 24, "beds": 12 }',
    '{ "beds": 12 }',
  ],
  'json-too-deep': ['Values are nested deeper than anything that people write.', '[[[[ … ]]]]', '["a", "b"]'],
  'json-syntax': [
    'The text is no JSON. The place is where the mistake is, or where the parser stopped.',
    "{ 'beds': 24 }",
    '{ "beds": 24 }',
  ],
}
