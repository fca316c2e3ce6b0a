/** A column that a movement's data key seals. */
export interface SealedColumn {
  readonly table: string;
  /** Column with the id of the movement. */
  readonly id: string;
  readonly column: string;
  /** What the sealed value is bound to. */
  readonly place: (movementId: string) => string;
}

/** All that is kept of a movement under its data key. */
export const SEALED_OF_MOVEMENT = {
  title: { table: 'movement', id: 'id', column: 'title', place: (id) => `title ${id}` },
  verdict: { table: 'incident', id: 'movementId', column: 'sealedVerdict', place: (id) => `verdict ${id}` },
  original: { table: 'kept_original', id: 'movementId', column: 'sealed', place: (id) => `original ${id}` },
  pictures: { table: 'kept_pictures', id: 'movementId', column: 'sealed', place: (id) => `pictures ${id}` },
  evidence: { table: 'evidence', id: 'movementId', column: 'sealed', place: (id) => `evidence ${id}` },
  journal: { table: 'journal', id: 'movementId', column: 'sealed', place: (id) => `journal ${id}` },
  journalTexts: {
    ...{ table: 'journal', id: 'movementId', column: 'sealedTexts' },
    place: (id) => `journal texts ${id}`,
  },
} as const satisfies Readonly<Record<string, SealedColumn>>;
