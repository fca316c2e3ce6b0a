import type { IntakeResult } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { IntakeService } from '../../doors/agents/intake.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import type { ReaderEntity } from '../readers/reader.entity.js';
import { Watching } from './watching.service.js';

/** Movements that machines saw: taken by the intake, in the name of whoever works there. */
@Injectable()
export class WatchedMovements {
  constructor(
    private readonly intake: IntakeService,
    private readonly watching: Watching,
  ) {}

  /** A machine says what moved; whose it is and which machine it was is known here. */
  async take(reader: ReaderEntity, body: Uint8Array): Promise<IntakeResult[]> {
    const person = await this.watching.personAt(reader);
    if (!person)
      throw new AppError(
        'not-permitted',
        `Nobody is known to work at "${reader.name}". Give the machine to somebody in the directory, or name somebody for its group. Nothing was kept.`,
      );
    return this.intake.takeFrom(
      {
        ...{ id: reader.id, people: null, hoursBack: null },
        states: { person: person.address, machine: reader.name, channel: 'endpoint' },
      },
      body,
    );
  }
}
