import { EVENT_ID, type Event, getScalarValue, SCALAR_STYLE } from 'js-yaml'
import type { Span } from '../diagnostics/diagnostic.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import type { PathSegment, PlaceNode } from './document.ts'
import { MAX_ALIASED, type UnknownTag, type YamlFault } from './yaml-fault.ts'
import { isCoreTag, resolvePlainScalar, resolveTag, resolveTaggedScalar, UNFIT } from './yaml-scalar.ts'

interface Anchor {
  value: unknown
  /** Its text as a key: a scalar as it is written. */
  text: string | undefined
  /** Values in it, itself included, aliases expanded. */
  size: number
  place: PlaceNode | undefined
  open: boolean
}

interface Frame {
  readonly kind: 'document' | 'list' | 'group'
  readonly value: unknown
  readonly place: PlaceNode | undefined
  readonly anchor: Anchor | undefined
  readonly style: number
  readonly countBefore: number
  key: string | undefined
  keySpan: Span | undefined
  hasKey: boolean
  /** Set while a key that is itself a group or list is being read. */
  end: number
}

/** The documents of a text, or the first fault in it. */
export interface ComposedText {
  readonly documents: readonly ComposedYaml[]
  readonly fault?: YamlFault
  readonly unknownTags?: readonly UnknownTag[]
}

/** One YAML document made from parser events. */
export interface ComposedYaml {
  readonly value: unknown
  readonly place: PlaceNode | undefined
}

/**
 * Makes the values of all documents of one text from its events, with a tree of places beside them
 * when `withPlaces` is set. Values are the same either way. The first fault ends the work.
 */
export function composeYaml(events: readonly Event[], text: string, withPlaces: boolean): ComposedText {
  const documents: ComposedYaml[] = []
  const unknownTags: UnknownTag[] = []
  let frames: Frame[] = []
  let anchors = new Map<string, Anchor>()
  let handles = new Map<string, string>()
  let count = 0
  let aliased = 0

  const startOf = (event: Event): number => {
    if ('tagStart' in event && event.tagStart >= 0) return event.tagStart
    if ('anchorStart' in event && event.anchorStart >= 0) return event.anchorStart - 1
    if ('valueStart' in event) return event.valueStart
    return 'start' in event ? event.start : 0
  }

  /** The full name of the tag of a node, which is noted where it is not of the core schema. */
  const tagOf = ({ tagStart, tagEnd }: { readonly tagStart: number; readonly tagEnd: number }): string => {
    const written = text.slice(tagStart, tagEnd)
    const tag = written === '!' ? written : resolveTag(written, handles)
    if (!isCoreTag(tag)) unknownTags.push({ tag: written, span: [tagStart, tagEnd] })
    return tag
  }

  /** Remembers what an anchor names: a scalar with its text, or a list or a group that has just begun. */
  const anchorOf = (event: Event, value: unknown, place: PlaceNode | undefined, scalar?: string) => {
    if (!('anchorStart' in event) || event.anchorStart < 0) return undefined
    const anchor: Anchor = { value, text: scalar, size: 1, place, open: scalar === undefined }
    anchors.set(text.slice(event.anchorStart, event.anchorEnd), anchor)
    return anchor
  }

  /** Puts a finished value where it belongs. Gives a fault when a key stands twice. */
  const put = (value: unknown, place: PlaceNode | undefined, keyText: string | undefined): YamlFault | undefined => {
    const frame = frames[frames.length - 1] as Frame
    if (place && place.span[1] > frame.end) frame.end = place.span[1]
    if (frame.kind === 'list') {
      const list = frame.value as unknown[]
      if (place) setChild(frame, list.length, place)
      list.push(value)
      return undefined
    }
    if (frame.kind === 'document') {
      documents.push({ value, place })
      return undefined
    }
    if (!frame.hasKey) {
      frame.key = keyText ?? String(value ?? '')
      frame.keySpan = place?.span
      frame.hasKey = true
      if (Object.hasOwn(frame.value as object, frame.key))
        return { code: 'duplicate-key', span: lastSpan, key: frame.key }
      return undefined
    }
    const key = frame.key as string
    if (place) {
      if (frame.keySpan) place.key = frame.keySpan
      setChild(frame, key, place)
    }
    setOwn(frame.value as Record<string, unknown>, key, value)
    frame.hasKey = false
    return undefined
  }

  const setChild = (frame: Frame, step: PathSegment, place: PlaceNode): void => {
    if (!frame.place) return
    frame.place.children ??= new Map()
    frame.place.children.set(step, place)
  }

  let lastSpan: Span = [0, 0]
  let lastEnd = 0

  for (const event of events) {
    let fault: YamlFault | undefined
    switch (event.type) {
      case EVENT_ID.SCALAR: {
        count++
        const scalar = getScalarValue(text, event)
        const span = scalarSpan(event, text, lastEnd)
        lastSpan = span
        lastEnd = span[1]
        let value: unknown
        if (event.tagStart >= 0) {
          const tag = tagOf(event)
          // An empty node with the non-specific tag stays empty.
          value = tag === '!' && event.valueStart < 0 ? null : resolveTaggedScalar(scalar, tag)
          if (value === UNFIT) {
            const written = text.slice(event.tagStart, event.tagEnd)
            return { documents, fault: { code: 'unfit-tag', span, tag: written, text: scalar } }
          }
        } else value = event.style === SCALAR_STYLE.PLAIN ? resolvePlainScalar(scalar) : scalar
        const place: PlaceNode | undefined = withPlaces ? { span } : undefined
        if (event.anchorStart >= 0) anchorOf(event, value, place, scalar)
        fault = put(value, place, scalar)
        break
      }
      case EVENT_ID.MAPPING:
      case EVENT_ID.SEQUENCE: {
        const start = startOf(event)
        if (event.tagStart >= 0) tagOf(event)
        const list = event.type === EVENT_ID.SEQUENCE
        const value: unknown = list ? [] : {}
        const place: PlaceNode | undefined = withPlaces ? { span: [start, start + 1] } : undefined
        const anchor = event.anchorStart >= 0 ? anchorOf(event, value, place) : undefined
        frames.push({
          kind: list ? 'list' : 'group',
          value,
          place,
          anchor,
          style: event.style,
          countBefore: count,
          key: undefined,
          keySpan: undefined,
          hasKey: false,
          end: start + 1,
        })
        count++
        lastEnd = start
        break
      }
      case EVENT_ID.ALIAS: {
        const name = text.slice(event.anchorStart, event.anchorEnd)
        const span: Span = [event.anchorStart - 1, event.anchorEnd]
        lastSpan = span
        lastEnd = span[1]
        const anchor = anchors.get(name)
        if (!anchor) return { documents, fault: { code: 'alias-unknown', span, name } }
        if (anchor.open) return { documents, fault: { code: 'alias-recursive', span, name } }
        count += anchor.size
        aliased += anchor.size
        if (aliased > MAX_ALIASED) return { documents, fault: { code: 'too-large', span } }
        const place: PlaceNode | undefined = anchor.place
          ? { span, ...(anchor.place.children ? { children: anchor.place.children } : {}) }
          : undefined
        fault = put(anchor.value, place, anchor.text ?? keyText(anchor.value))
        break
      }
      case EVENT_ID.DOCUMENT: {
        anchors = new Map()
        handles = new Map()
        for (const directive of event.directives)
          if (directive.kind === 'tag') handles.set(directive.handle, directive.prefix)
        frames = [
          {
            kind: 'document',
            value: undefined,
            place: undefined,
            anchor: undefined,
            style: 0,
            countBefore: count,
            key: undefined,
            keySpan: undefined,
            hasKey: false,
            end: 0,
          },
        ]
        break
      }
      default: {
        const frame = frames.pop()
        if (!frame || frame.kind === 'document') break
        const end = frame.style === FLOW ? closingBracket(text, frame) : frame.end
        lastEnd = Math.max(lastEnd, end)
        if (frame.anchor) {
          frame.anchor.size = count - frame.countBefore
          frame.anchor.open = false
        }
        const place = frame.place && Object.assign(frame.place, { span: [frame.place.span[0], end] as Span })
        const parent = frames[frames.length - 1]
        const isKey = parent?.kind === 'group' && !parent.hasKey
        if (isKey) lastSpan = [place?.span[0] ?? 0, end]
        fault = put(frame.value, place, isKey ? keyText(frame.value) : undefined)
      }
    }
    if (fault) return { documents, fault }
  }
  return { documents, unknownTags }
}

const FLOW = 2

/** A key that is a list or a group counts by its JSON text, since our keys are text. */
export const keyText = (value: unknown): string => JSON.stringify(value) ?? ''

/** The text between the last item of a list or group in brackets and the closing bracket. */
const BEFORE_CLOSING = /(?:[\s,:?]|#[^\r\n]*[\r\n])*[\]}]/y

function closingBracket(text: string, frame: Frame): number {
  BEFORE_CLOSING.lastIndex = frame.end
  if (BEFORE_CLOSING.test(text)) return BEFORE_CLOSING.lastIndex
  // Nothing was in it, and an anchor or a tag stands before it.
  const at = text.indexOf(frame.kind === 'list' ? ']' : '}', frame.end)
  return at === -1 ? frame.end : at + 1
}

function scalarSpan(event: Extract<Event, { type: typeof EVENT_ID.SCALAR }>, text: string, lastEnd: number): Span {
  if (event.valueStart < 0) return [lastEnd, lastEnd]
  const quoted = event.style === SCALAR_STYLE.SINGLE_QUOTED || event.style === SCALAR_STYLE.DOUBLE_QUOTED
  if (quoted) return [event.valueStart - 1, event.valueEnd + 1]
  if (event.style === SCALAR_STYLE.PLAIN) return [event.valueStart, event.valueEnd]
  // A block scalar's range starts below its indicator; trailing breaks are no part of what is seen.
  let end = event.valueEnd
  while (end > event.valueStart && /\s/.test(text.charAt(end - 1))) end--
  let start = event.valueStart
  while (start < end && /[\s]/.test(text.charAt(start))) start++
  return [start, end]
}
