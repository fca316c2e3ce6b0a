import { certaintyFor, type Finding, patternsOf } from '../../detection/model/finding.js';
import type { PatternId, RawOffset } from '../../shared/brand.js';
import type {
  FieldsFound,
  InnerPlace,
  InspectedMovement,
  InspectedPart,
  PartRole,
} from '../../movement/movement.js';

/** A part as the journal keeps it: per pattern the certainties and the values, side by side. */
export type KeptPart =
  | {
      readonly status: 'read';
      readonly role: PartRole;
      readonly inner?: InnerPlace;
      readonly path: readonly string[];
      readonly characters: number;
      readonly rows?: number;
      readonly fields?: FieldsFound;
      readonly found: Readonly<
        Record<string, readonly [certainties: readonly number[], values: readonly string[]]>
      >;
    }
  | (InspectedPart & { readonly status: 'unreadable' });

/**
 * A movement as the journal keeps it. Findings without the evidence and the places that led to them: rules count
 * findings and read nothing else, and lists of plain values are read several times as fast as objects.
 */
export interface KeptMovement extends Omit<InspectedMovement, 'parts'> {
  readonly parts: readonly KeptPart[];
}

export function keepMovement(movement: InspectedMovement): KeptMovement {
  return { ...movement, parts: movement.parts.map(keepPart) };
}

function keepPart(part: InspectedPart): KeptPart {
  if (part.status === 'unreadable') return part;
  const found: Record<string, [number[], string[]]> = {};
  for (const finding of part.findings) {
    for (const pattern of patternsOf(finding)) {
      const list = (found[pattern] ??= [[], []]);
      list[0].push(certaintyFor(finding, pattern));
      list[1].push(finding.canonical);
    }
  }
  return { ...factsOf(part), found };
}

/** The movement again, as far as rules read it: with findings of `asked` patterns, or of all for null. */
export function unkeepMovement(kept: KeptMovement, asked: ReadonlySet<string> | null): InspectedMovement {
  return { ...kept, parts: kept.parts.map((part) => unkeepPart(part, asked)) };
}

function unkeepPart(part: KeptPart, asked: ReadonlySet<string> | null): InspectedPart {
  if (part.status === 'unreadable') return part;
  const findings: Finding[] = [];
  for (const [pattern, [certainties, values]] of Object.entries(part.found)) {
    if (asked && !asked.has(pattern)) continue;
    certainties.forEach((certainty, index) =>
      findings.push({
        pattern: pattern as PatternId,
        start: NOWHERE,
        end: NOWHERE,
        certainty,
        canonical: values[index] ?? '',
        evidence: NONE,
        rivals: NONE,
      }),
    );
  }
  return { ...factsOf(part), findings };
}

function factsOf({
  status,
  role,
  inner,
  path,
  characters,
  rows,
  fields,
}: Omit<KeptPart & { readonly status: 'read' }, 'found'>) {
  return {
    ...{ status, role, path, characters },
    ...(inner === undefined ? {} : { inner }),
    ...(rows === undefined ? {} : { rows }),
    ...(fields === undefined ? {} : { fields }),
  };
}

const NOWHERE = 0 as RawOffset;
const NONE: readonly never[] = [];
