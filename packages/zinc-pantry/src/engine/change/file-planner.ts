import type { Change, Refusal } from '../../change/change.ts'
import type { ConfigurationText } from '../../change/configuration-text.ts'
import { moveFiles } from '../../change/move-files.ts'
import { renamePatterns } from '../../change/rename-patterns.ts'
import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner, SeenSite } from './planner.ts'

/** A file or a folder of the content that gets another path. */
export interface FileRequest {
  /** Both relative to the content folder. */
  readonly path: string
  readonly to: string
}

/** Plans another path for a file or a folder: for what names it, and in the patterns of the configuration. */
export function createFilePlanner({ path, to }: FileRequest, configuration: ConfigurationText): Planner {
  const after = (file: string): string =>
    file === path ? to : file.startsWith(`${path}/`) ? to + file.slice(path.length) : file
  const stem = path.slice(path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '')
  return {
    plan(subject: ChangeSubject): Change | Refusal {
      const moved = subject.files.filter((file) => after(file) !== file)
      const taken = moved.map(after).find((file) => subject.files.includes(file))
      if (taken !== undefined) return { refused: `There is a file ${taken} already` }
      const moves = new Map(moved.map((file) => [file, after(file)]))
      const files = moveFiles(subject, moves, { sourceOf: createSources(subject, readOptionsOf) })
      const patterns = renamePatterns(subject.model, configuration, { path, to })
      return {
        words: `${path} becomes ${to}`,
        steps: [...patterns, ...files.steps],
        attention: files.attention,
      }
    },
    refuse: (subject, seen) =>
      findLost(subject, seen) ??
      findOtherValues(subject, seen, {
        // The addresses of images are made of the names of their files.
        mayBecome: (before) => before.includes(path) || before.includes(stem),
        fieldsOf: (_, { formerAddresses }) => (formerAddresses === undefined ? [] : [formerAddresses]),
      }),
  }
}

/** Why an entry would have another id, or would not be read any more. */
function findLost(subject: ChangeSubject, seen: SeenSite): Refusal | undefined {
  const there = new Set(entriesOf(seen).map(qualifiedId))
  const lost = entriesOf(subject).find((entry) => !there.has(qualifiedId(entry)))
  return (
    lost && {
      refused: `${qualifiedId(lost)} would not be found under its name any more`,
      help: `Its path is its id, or no pattern in files matches it: zinc-pantry rename ${qualifiedId(lost)} …`,
    }
  )
}
