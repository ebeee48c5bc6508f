import type { AnyField } from './any-field.ts'
import type { WrittenFacts } from './body-facts.ts'
import type { EntryData, EntryHead } from './entry-types.ts'
import type { FieldLike, FieldSet, ValueOf } from './field.ts'

/** The derived fields and the rules of a collection. */
export interface Computation<Fields extends FieldSet, Derived, Sets = unknown, AllDerived = unknown> {
  /** Fields that are computed from the others; each is checked like any field. */
  readonly derive?: {
    readonly [Name in keyof Derived]: {
      readonly field: Derived[Name]
      readonly from: (entry: RuledEntry<Fields>, site: SiteView<Sets, AllDerived>) => DerivedValue<Derived[Name]>
    }
  }
  /** Checks across fields and across entries, run on every entry whose fields they ask for are right. */
  readonly rules?: readonly ((
    entry: RuledEntry<NoInfer<Fields>> & DerivedValues<NoInfer<Derived>>,
    tools: RuleTools<RuledEntry<NoInfer<Fields>> & DerivedValues<NoInfer<Derived>>, Sets, AllDerived>,
  ) => void)[]
}

/** The type of a derived field's value. */
type DerivedValue<Computed> = Computed extends FieldLike ? ValueOf<Computed> : never

/** The types of the values of derived fields. */
export type DerivedValues<Derived> = { readonly [Name in keyof Derived]: DerivedValue<Derived[Name]> }

/** An entry as derived fields and rules see it. */
export type RuledEntry<Fields extends FieldSet> = RuledHead & EntryData<Fields>

/** The members that every entry has beside its fields. */
interface RuledHead extends EntryHead {
  /** The language (BCP 47), where the collection has several. */
  readonly locale?: string
  /**
   * What its body says of itself, with addresses as they are written; null where it has none. It is read when it is asked
   * for, and no part of a copy of the entry.
   */
  readonly body: RuledBody | null
}

/** What a body says of itself, as derived fields and rules see it. */
export interface RuledBody extends WrittenFacts {
  readonly format: 'markdown' | 'mdx'
}

/** An entry of another collection, as derived fields and rules see it. */
export interface OtherEntry extends RuledHead {
  readonly [field: string]: unknown
}

/** The other entries of a site. Derived fields of theirs are computed when they are read. */
export interface SiteView<Sets = unknown, Derived = unknown> {
  /** The entry of a collection with an id; undefined where there is none, or it has errors. */
  entry<Name extends keyof Sets & string>(collection: Name, id: string): SiteEntry<Sets, Derived, Name> | undefined
  entry<Entry = OtherEntry>(collection: string, id: string): Entry | undefined
  /** All entries of a collection that have no errors. */
  entries<Name extends keyof Sets & string>(collection: Name): readonly SiteEntry<Sets, Derived, Name>[]
  entries<Entry = OtherEntry>(collection: string): readonly Entry[]
}

/** An entry of a collection of the site, derived fields included. */
type SiteEntry<Sets, Derived, Name extends keyof Sets> = (Sets[Name] extends FieldSet
  ? RuledEntry<Sets[Name]>
  : OtherEntry) &
  (Name extends keyof Derived ? DerivedValues<Derived[Name]> : unknown)

/** The tools of a rule. */
export interface RuleTools<Entry, Sets = unknown, Derived = unknown> extends SiteView<Sets, Derived> {
  /** All entries of the rule's own collection. */
  readonly all: readonly Entry[]
  /** Reports a problem of the value at a path, such as `legs.0.hut`; an empty path means the entry. */
  report(path: string, problem: RuleProblem): void
}

/** A problem that a rule finds. */
export interface RuleProblem {
  /** A code of the site's own, in kebab case, such as `overlap` or `booking-overlap`. */
  readonly code: string
  /** The problem, in one line without a full stop. */
  readonly message: string
  /** How to mend it. */
  readonly help?: string
  /** Default: `error`. */
  readonly severity?: 'error' | 'warning'
}

/** A derived field, its types aside. */
export interface DerivedField {
  readonly field: AnyField
  readonly from: (entry: never, site: SiteView) => unknown
}

/** A rule, its types aside. */
export type Rule = (entry: never, tools: RuleTools<never>) => void
