/** What somebody does in a business application. */
export const USE_DEEDS = ['export', 'read', 'sign-in', 'connect', 'question', 'answer'] as const;
export type UseDeed = (typeof USE_DEEDS)[number];

/** Whether a person works on the screen or a program asks the application's interface. */
export const USE_WAYS = ['screen', 'interface'] as const;
export type UseWay = (typeof USE_WAYS)[number];

/** With what somebody signed in. */
export const SIGN_IN_PROOFS = ['password', 'second-factor', 'key', 'not-known'] as const;
export type SignInProof = (typeof SIGN_IN_PROOFS)[number];

/** The sign-in under which something is done; for a sign-in itself, this one. */
export interface SignIn {
  /** Milliseconds since 1970, UTC. */
  readonly at: number;
  /** Two letters (ISO 3166-1 alpha-2); left out where it is not known. */
  readonly country?: string;
  readonly proof: SignInProof;
}

/** One deed in a business application. Which application it is stands in what the movement is taken from. */
export interface ApplicationUse {
  readonly deed: UseDeed;
  readonly by: UseWay;
  /** The report or list that is taken; left out where there is none. */
  readonly report?: string;
  /** Kinds of record that it is made of: customers, bookings. */
  readonly objects: readonly string[];
  /** Records taken; left out where the application does not say, and then rows of tables are counted. */
  readonly rows?: number;
  /**
   * Records that went out before in the same export, whose size nobody knows beforehand: it is asked about batch by batch,
   * and this batch counts with them. Left out for an export in one piece.
   */
  readonly before?: number;
  /** Names of the fields of each record; left out where nobody says. */
  readonly columns?: readonly string[];
  /** What another application that is being connected asks to do. */
  readonly rights?: readonly string[];
  readonly signIn?: SignIn;
}

/** Longest stretch that conditions over time look back: 31 days, so that a month is a month. */
export const LONGEST_WINDOW_HOURS = 31 * 24;
/** What somebody usually does is taken from so many days before the stretch that is asked about: four whole weeks. */
export const USUAL_DAYS = 28;
