import {
  CASE_DAYS,
  caseOf,
  type EarlierAttempt,
  estimateAlike,
  type JoinedCase,
  LEAST_CASE_TEXT,
} from '@lantern/core/incidents';
import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import { IncidentEntity } from '../incident.entity.js';

/** Incidents of a person that a new one is compared with by text, the newest. */
const COMPARED = 200;
const DAY_MS = 86_400_000;

/** What a new incident is compared by. */
export interface NewAttempt {
  readonly person: string;
  readonly at: Date;
  readonly values: readonly string[];
  readonly signature: Uint32Array | null;
  readonly textSize: number;
  /** Only silent rules made it: it joins none that others may see, and the other way round. */
  readonly silent: boolean;
}

/** Bytes of a signature as they are stored, lowest byte first. */
export function signatureBytes(signature: Uint32Array): Buffer {
  const bytes = Buffer.alloc(signature.length * 4);
  signature.forEach((value, at) => bytes.writeUInt32LE(value, at * 4));
  return bytes;
}

export function readSignature(bytes: Buffer): Uint32Array {
  return Uint32Array.from({ length: bytes.length / 4 }, (_, at) => bytes.readUInt32LE(at * 4));
}

/** Attempts of one person with the same content, over any channel. */
@Injectable()
export class Cases {
  /** The case that a new incident joins, looked up within the transaction that records it; null for none. */
  async find(manager: EntityManager, attempt: NewAttempt): Promise<JoinedCase | null> {
    const { person, at, values, textSize, silent } = attempt;
    const signature = textSize >= LEAST_CASE_TEXT ? attempt.signature : null;
    if (values.length === 0 && !signature) return null;
    const since = new Date(at.getTime() - CASE_DAYS * DAY_MS);
    const earlier = await manager
      .createQueryBuilder(IncidentEntity, 'i')
      .select(['i.number', 'i.caseNumber', 'i.caseValues', 'i.signature', 'i.signatureSize', 'i.silent'])
      .where('i.personAddress = :person AND i.at BETWEEN :since AND :at AND i.silent = :silent', {
        ...{ person, since, at, silent },
      })
      .orderBy('i.at', 'DESC')
      .take(COMPARED)
      .getMany();
    if (earlier.length === 0) return null;
    const shared = await this.shared(
      manager,
      earlier.map(({ number }) => number),
      values,
    );
    return caseOf(
      values.length,
      earlier.map((one): EarlierAttempt => ({
        number: one.number,
        case: one.caseNumber,
        values: one.caseValues,
        shared: shared.get(one.number) ?? 0,
        textLikeness:
          signature && one.signature && one.signatureSize >= LEAST_CASE_TEXT
            ? estimateAlike(signature, readSignature(one.signature))
            : null,
      })),
    );
  }

  /** Puts the first attempt into its case as well: it began without one. */
  async open(manager: EntityManager, { case: number, like }: JoinedCase): Promise<void> {
    await manager.update(IncidentEntity, { number: In([number, like]) }, { caseNumber: number });
  }

  private async shared(
    manager: EntityManager,
    numbers: readonly number[],
    values: readonly string[],
  ): Promise<Map<number, number>> {
    if (values.length === 0) return new Map();
    const rows = await manager.query<{ number: number; shared: string }[]>(
      `SELECT incidentNumber AS number, COUNT(*) AS shared FROM case_value
       WHERE hash IN (${values.map(() => 'UNHEX(?)').join(',')}) AND incidentNumber IN (${numbers.map(() => '?').join(',')})
       GROUP BY incidentNumber`,
      [...values, ...numbers],
    );
    return new Map(rows.map(({ number, shared }) => [Number(number), Number(shared)]));
  }
}
