import type { Diagnostic, Place } from '../../diagnostics/diagnostic.ts'
import type { LinkedCollection } from '../../link/link-entry.ts'
import type { Model } from '../../schema/model.ts'
import type { SettingStep } from '../../schema/settings-reader.ts'
import type { Checked } from '../check.ts'
import type { Without } from '../without.ts'

/** Something that would break, or be lost, and where it stands. */
export interface Effect {
  /** A `definition` stands in the configuration, a `use` in content. */
  readonly kind: 'definition' | 'use'
  /** The effect in words. */
  readonly words: string
  readonly place: Place
}

/** The kinds of things that can be removed. */
export type TargetKind = 'collection' | 'entry' | 'field' | 'choice' | 'block' | 'file'

/** A removal and its effects. */
export interface Removal {
  readonly target: TargetKind
  /** The thing that would be removed, in words. */
  readonly words: string
  readonly effects: readonly Effect[]
}

/** A site that something would be removed from. */
export interface Subject {
  readonly model: Model
  readonly collections: readonly LinkedCollection[]
  readonly checked: Checked
  /** Files of the content folder. */
  readonly files: readonly string[]
  /** Problems that are there without something, and are not there now. */
  problemsWithout(without: Without): Promise<readonly Diagnostic[]>
  settingPlace(path: readonly SettingStep[]): Promise<Place>
}

/** A setting that names something, and what it has to do with it. */
export interface NamedSetting {
  readonly path: readonly SettingStep[]
  readonly words: string
}

/** Settings as effects. */
export const asDefinitions = (subject: Subject, settings: readonly NamedSetting[]): Promise<Effect[]> =>
  Promise.all(
    settings.map(async ({ path, words }): Promise<Effect> => {
      return { kind: 'definition', words, place: await subject.settingPlace(path) }
    }),
  )
