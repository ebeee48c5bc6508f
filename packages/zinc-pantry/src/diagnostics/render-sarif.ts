import { type Diagnostic, helpOf, messageOf, noteOf, type Place } from './diagnostic.ts'
import { explainCode } from './explain.ts'
import { createLineIndexes, type TextSource } from './render-text.ts'

/** A range of a file as SARIF has it. */
export interface SarifRegion {
  startLine: number
  startColumn: number
  endLine: number
  endColumn: number
  charOffset: number
  charLength: number
}

/** A place in a file as SARIF has it. */
export interface SarifLocation {
  physicalLocation: { artifactLocation: { uri: string; uriBaseId: string }; region: SarifRegion }
  message?: { text: string }
}

/** An edit as SARIF has it. */
export interface SarifFix {
  description: { text: string }
  artifactChanges: [
    {
      artifactLocation: { uri: string; uriBaseId: string }
      replacements: [{ deletedRegion: SarifRegion; insertedContent: { text: string } }]
    },
  ]
}

/** A problem as SARIF has it. */
export interface SarifResult {
  ruleId: string
  ruleIndex: number
  level: 'error' | 'warning'
  message: { text: string }
  locations: SarifLocation[]
  relatedLocations?: SarifLocation[]
  fixes?: SarifFix[]
}

/** A log of one run, by SARIF 2.1.0 (OASIS). */
export interface SarifLog {
  $schema: string
  version: '2.1.0'
  runs: {
    tool: { driver: { name: string; version: string; rules: SarifRule[] } }
    columnKind: 'utf16CodeUnits'
    originalUriBaseIds: { SITE: { uri: string } }
    results: SarifResult[]
  }[]
}

/** A code as SARIF has it. */
export interface SarifRule {
  id: string
  shortDescription: { text: string }
  defaultConfiguration: { level: 'error' | 'warning' }
}

/** The invocation in a log. */
export interface SarifRun {
  readonly version: string
  /** The site's folder as a file URL that ends in a slash. */
  readonly rootUri: string
}

const BASE = 'SITE'

/**
 * Diagnostics as a SARIF log, for tools that gather the findings of many. Columns count UTF-16 code units.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, renderSarif } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const log = renderSarif(report.diagnostics, report.textOf, { version: '1.0.0', rootUri: 'file:///site/' })
 * console.log(JSON.stringify(log))
 * ```
 */
export function renderSarif(
  diagnostics: readonly Diagnostic[],
  textOf: TextSource,
  { version, rootUri }: SarifRun,
): SarifLog {
  const indexes = createLineIndexes(textOf)
  const codes = [...new Set(diagnostics.map(({ code }) => code as string))].sort()
  const regionOf = ({ file, span: [start, end] }: Place): SarifRegion => {
    const from = indexes(file).at(start)
    const to = indexes(file).at(end)
    return {
      startLine: from.line,
      startColumn: from.column,
      endLine: to.line,
      endColumn: to.column,
      charOffset: start,
      charLength: end - start,
    }
  }
  const artifactOf = ({ file }: Place) => ({ uri: file.split('/').map(encodeURIComponent).join('/'), uriBaseId: BASE })
  const locationOf = (place: Place): SarifLocation => ({
    physicalLocation: { artifactLocation: artifactOf(place), region: regionOf(place) },
  })
  const resultOf = (diagnostic: Diagnostic): SarifResult => {
    const { code, severity, related, edit } = diagnostic
    const help = helpOf(diagnostic)
    const text = help === undefined ? messageOf(diagnostic) : `${messageOf(diagnostic)}. ${help}`
    const replacement = edit && { deletedRegion: regionOf(edit), insertedContent: { text: edit.text } }
    return {
      ruleId: code,
      ruleIndex: codes.indexOf(code),
      level: severity,
      message: { text },
      locations: [locationOf(diagnostic)],
      ...(related
        ? { relatedLocations: related.map((place) => ({ ...locationOf(place), message: { text: noteOf(place) } })) }
        : {}),
      ...(edit && replacement
        ? {
            fixes: [
              {
                description: { text: help ?? 'Mend it' },
                artifactChanges: [{ artifactLocation: artifactOf(edit), replacements: [replacement] }],
              },
            ],
          }
        : {}),
    }
  }
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'zinc-pantry', version, rules: codes.map(ruleOf) } },
        columnKind: 'utf16CodeUnits',
        originalUriBaseIds: { [BASE]: { uri: rootUri } },
        results: diagnostics.map(resultOf),
      },
    ],
  }
}

function ruleOf(code: string): SarifRule {
  const explained = explainCode(code)
  const known = 'meaning' in explained
  return {
    id: code,
    shortDescription: { text: known ? explained.meaning : 'A rule of the site' },
    defaultConfiguration: { level: known ? explained.severity : 'error' },
  }
}
