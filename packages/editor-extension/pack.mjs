/**
 * Bundles the extension for editors and packs it into a file that they install: a ZIP archive by the Open Packaging Conventions
 * (ECMA-376, part 2), with a manifest of its own beside that of the package.
 *
 *   node pack.mjs [FILE]
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { strToU8, zipSync } from 'fflate'
import { build } from 'rolldown'

const folder = dirname(fileURLToPath(import.meta.url))
const description = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'))
const { name, publisher, version, displayName, engines, categories, keywords } = description
const target = resolve(process.argv[2] ?? join(folder, 'dist', `${name}-${version}.vsix`))

const bundle = join(folder, 'dist/extension.cjs')
await build({
  input: join(folder, 'src/extension.ts'),
  platform: 'node',
  external: ['vscode'],
  output: { file: bundle, format: 'cjs', minify: true },
  logLevel: 'warn',
})

/** What the editor reads: nothing of how it was made. */
const { scripts: _, devDependencies: __, private: ___, type: ____, ...published } = description
const escapeXml = (text) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;')
const property = (id, value) => `      <Property Id="${id}" Value="${escapeXml(value)}" />`
const manifest = `<?xml version="1.0" encoding="utf-8"?>
<PackageManifest Version="2.0.0" xmlns="http://schemas.microsoft.com/developer/vsx-schema/2011">
  <Metadata>
    <Identity Language="en-US" Id="${name}" Version="${version}" Publisher="${publisher}" />
    <DisplayName>${escapeXml(displayName)}</DisplayName>
    <Description xml:space="preserve">${escapeXml(description.description)}</Description>
    <Tags>${escapeXml(keywords.join(','))}</Tags>
    <Categories>${escapeXml(categories.join(','))}</Categories>
    <License>extension/LICENSE.txt</License>
    <Properties>
${[
  property('Microsoft.VisualStudio.Code.Engine', engines.vscode),
  property('Microsoft.VisualStudio.Code.ExtensionKind', 'workspace'),
].join('\n')}
    </Properties>
  </Metadata>
  <Installation>
    <InstallationTarget Id="Microsoft.VisualStudio.Code" />
  </Installation>
  <Dependencies />
  <Assets>
    <Asset Type="Microsoft.VisualStudio.Code.Manifest" Path="extension/package.json" Addressable="true" />
    <Asset Type="Microsoft.VisualStudio.Services.Content.Details" Path="extension/README.md" Addressable="true" />
    <Asset Type="Microsoft.VisualStudio.Services.Content.License" Path="extension/LICENSE.txt" Addressable="true" />
  </Assets>
</PackageManifest>
`
const types = {
  json: 'application/json',
  cjs: 'application/javascript',
  md: 'text/markdown',
  txt: 'text/plain',
  vsixmanifest: 'text/xml',
}
const contentTypes = `<?xml version="1.0" encoding="utf-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">${Object.entries(types)
  .map(([ending, type]) => `<Default Extension=".${ending}" ContentType="${type}" />`)
  .join('')}</Types>
`
const archive = zipSync({
  'extension.vsixmanifest': strToU8(manifest),
  '[Content_Types].xml': strToU8(contentTypes),
  'extension/package.json': strToU8(`${JSON.stringify(published, null, 2)}\n`),
  'extension/README.md': readFileSync(join(folder, 'README.md')),
  'extension/LICENSE.txt': readFileSync(join(folder, 'LICENSE')),
  'extension/dist/extension.cjs': readFileSync(bundle),
})
writeFileSync(target, archive)
console.log(`${target.slice(target.lastIndexOf('/') + 1)}: ${Math.round(archive.length / 1024)} KB`)
