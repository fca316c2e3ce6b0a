import { Injectable } from '@nestjs/common';
import { strToU8, zipSync } from 'fflate';
import type { Caller } from '../../platform/auth/permit.js';
import { sightOf } from '../../platform/auth/sight.js';
import { Trail } from '../../platform/trail/trail.service.js';
import { AlikeIncidents } from '../alike/alike.service.js';
import { IncidentsService } from '../incidents.service.js';
import { KnownNames } from '../known-names.service.js';
import { casePage } from './case-page.js';

/** An incident, or all attempts of its case, as one folder that reads without the workbench. */
@Injectable()
export class CaseFolders {
  constructor(
    private readonly incidents: IncidentsService,
    private readonly alike: AlikeIncidents,
    private readonly names: KnownNames,
    private readonly trail: Trail,
  ) {}

  /** A zip archive with `index.html` and one JSON file an incident. Evidence is masked, whoever asks. */
  async of(number: number, caller: Caller): Promise<Buffer> {
    const first = await this.incidents.get(number, caller);
    const numbers = first.case === null ? [number] : await this.attempts(number, caller);
    const details = [];
    for (const one of numbers) details.push(await this.incidents.get(one, caller));
    const made = { at: new Date(), by: caller.name };
    const page = casePage(details, (pattern) => this.names.nameOf('pattern', pattern), made);
    const files = Object.fromEntries(
      details.map((detail) => [`incident-${detail.number}.json`, strToU8(JSON.stringify(detail, null, 2))]),
    );
    await this.trail.add({
      actor: caller.email,
      action: 'GET /incidents/:number/folder',
      target: String(number),
      facts: { incidents: String(details.length) },
    });
    return Buffer.from(zipSync({ 'index.html': strToU8(page), ...files }));
  }

  private async attempts(number: number, caller: Caller): Promise<number[]> {
    const { attempts } = await this.alike.case(number, sightOf(caller));
    return attempts.map(({ row }) => row.number);
  }
}
