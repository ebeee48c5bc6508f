import { type ParseError, printParseErrorCode } from 'jsonc-parser'
import { createDiagnostic, type Diagnostic, type Span } from '../diagnostics/diagnostic.ts'
import { MAX_DEPTH } from './document.ts'

/** The diagnostic for a parser's error, and whether the values around it can still be trusted. */
export interface JsonFault {
  readonly diagnostic: Diagnostic
  readonly harmless: boolean
}

/** By the parser's names of its errors. */
const REASONS: Readonly<Record<string, string>> = {
  InvalidNumberFormat: 'Number is not written as JSON allows',
  PropertyNameExpected: 'Expected a key in double quotes',
  ValueExpected: 'Expected a value',
  ColonExpected: 'Expected a colon after the key',
  CommaExpected: 'Expected a comma before this',
  CloseBraceExpected: 'Expected } to close the object',
  CloseBracketExpected: 'Expected ] to close the list',
  EndOfFileExpected: 'Text after the end of the value',
  UnexpectedEndOfComment: 'Comment is never closed',
  UnexpectedEndOfString: 'Text is not closed with a double quote on its line',
  UnexpectedEndOfNumber: 'Number ends too early',
  InvalidUnicode: 'Escape \\u needs four hexadecimal digits',
  InvalidEscapeCharacter: 'Backslash starts no escape that JSON knows',
  InvalidCharacter: 'Control characters in text must be escaped',
}

/** Puts a parser's error into a diagnostic at the character that is wrong. */
export function describeJsonFault(error: ParseError, file: string, text: string): JsonFault {
  const span: Span = [error.offset, error.offset + Math.max(1, error.length)]
  const name = printParseErrorCode(error.error)
  if (name === 'InvalidCommentToken')
    return { diagnostic: createDiagnostic('json-comment', { file, span }, {}), harmless: true }
  const comma = trailingComma(name, error.offset, text)
  if (comma !== undefined)
    return {
      diagnostic: createDiagnostic(
        'json-trailing-comma',
        { file, span: [comma, comma + 1] },
        {},
        { edit: { file, span: [comma, comma + 1], text: '' } },
      ),
      harmless: true,
    }
  const reason = reasonOf(name, error, text)
  return {
    diagnostic: createDiagnostic('json-syntax', { file, span: atText(span, text) }, { reason }),
    harmless: false,
  }
}

function reasonOf(name: string, error: ParseError, text: string): string {
  if (text.trim() === '') return 'File is empty'
  if (name !== 'InvalidSymbol') return REASONS[name] ?? 'Text is not JSON'
  const symbol = text.slice(error.offset, error.offset + error.length)
  if (symbol.startsWith("'")) return 'Text must be in double quotes'
  if (/^\s*:/.test(text.slice(error.offset + error.length))) return 'Keys must be in double quotes'
  return `${symbol.length > 30 ? `${symbol.slice(0, 29)}…` : symbol} is no JSON value; text must be in double quotes`
}

function trailingComma(name: string, offset: number, text: string): number | undefined {
  const expected = name === 'PropertyNameExpected' || name === 'ValueExpected'
  if (!expected || !/[}\]]/.test(text.charAt(offset))) return undefined
  const before = text.slice(0, offset).trimEnd().length - 1
  if (text.charAt(before) !== ',') return undefined
  // Two commas in a row are a missing value, not a trailing comma.
  return /[,[{]/.test(text.slice(0, before).trimEnd().slice(-1)) ? undefined : before
}

/** An error at the very end is shown at the last visible character. */
function atText(span: Span, text: string): Span {
  const end = text.trimEnd().length
  return span[0] < end || end === 0 ? span : [end - 1, end]
}

/** Where a text first goes deeper than allowed, or undefined when it never does. */
export function findTooDeep(text: string): Span | undefined {
  let depth = 0
  let inText = false
  for (let offset = 0; offset < text.length; offset++) {
    const unit = text.charCodeAt(offset)
    if (inText) {
      if (unit === 92) offset++
      else if (unit === 34) inText = false
    } else if (unit === 34) inText = true
    else if (unit === 91 || unit === 123) {
      if (++depth > MAX_DEPTH) return [offset, offset + 1]
    } else if (unit === 93 || unit === 125) depth--
  }
  return undefined
}
