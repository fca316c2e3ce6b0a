/** What the directory knows of somebody; absent where it knows nothing. */
export interface PersonFacts {
  readonly address: string;
  readonly groups?: readonly string[];
  readonly department?: string;
  readonly office?: string;
  /** Zone of the IANA database in which they work; left out where nobody says. */
  readonly zone?: string;
}

/** What the directory knows, for references to people. */
export interface KnownPeople {
  readonly addresses: ReadonlySet<string>;
  readonly groups: ReadonlySet<string>;
  readonly departments: ReadonlySet<string>;
  readonly offices: ReadonlySet<string>;
}
