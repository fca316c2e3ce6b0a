/** A value of type `Base` that cannot be mixed up with another of the same type. */
export type Brand<Base, Name extends string> = Base & { readonly __brand: Name };

/** UTF-16 offset in the text as it was read. */
export type RawOffset = Brand<number, 'RawOffset'>;
/** UTF-16 offset in the normalised text that is searched. */
export type SearchOffset = Brand<number, 'SearchOffset'>;

export type PatternId = Brand<string, 'PatternId'>;
export type PolicyId = Brand<string, 'PolicyId'>;
export type RuleId = Brand<string, 'RuleId'>;
export type LabelId = Brand<string, 'LabelId'>;
export type OfferId = Brand<string, 'OfferId'>;
export type AutomaticId = Brand<string, 'AutomaticId'>;
