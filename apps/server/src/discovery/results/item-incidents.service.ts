import { DISCOVERY_ORIGIN } from '@lantern/contracts';
import type { ItemIncidentRequest } from '@lantern/contracts/discovery';
import type { Severity } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { HistoryEntity } from '../../incidents/incident.entity.js';
import { PeopleService } from '../../directory/people.service.js';
import { Movements } from '../../movements/movements.service.js';
import type { Submission, SubmittedBy } from '../../movements/submission.js';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { unsealJson } from '../../platform/sealing.js';
import { DiscoveryNames } from '../discovery-names.service.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { ItemEntity, ItemEvidenceEntity } from './item.entity.js';
import { evidenceAt } from './knowledge.js';

/** Whom it is about where nobody owns the item. */
const NOT_NAMED = 'not-named';
const EXCERPTS = 20;

/** What readers find is triaged at the desk like everything else: an item becomes an incident, once for its content. */
@Injectable()
export class ItemIncidents {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly names: DiscoveryNames,
  ) {}

  /** Number of the incident that an item became; null for none. */
  numberOf(item: Pick<ItemEntity, 'id' | 'digest'>): Promise<number | null> {
    return this.movements.incidentUnder(keyOf(item));
  }

  /** Opens an incident, or answers with the one that there is. */
  async open(
    id: string,
    { severity, note }: ItemIncidentRequest,
    caller: Caller,
  ): Promise<{ readonly incident: number }> {
    const item = await this.manager.findOneBy(ItemEntity, { id });
    if (!item) throw new AppError('not-found', 'There is no such item.');
    if (item.found.length === 0)
      throw new AppError('act-refused', 'Nothing was found in this item, so there is nothing to triage.');
    const known = await this.numberOf(item);
    if (known !== null) return { incident: known };
    const about = await this.aboutOf(item);
    const said = [...about, ...(note.trim() === '' ? [] : [note.trim()])].join(' ');
    const submission = await this.submissionOf(item, severity, [...about, note.trim()]);
    const { incident } = await this.movements.submit(keyOf(item), submission, {
      // Whoever takes it reads what it is about without opening anything.
      apply: async (manager, verdict) => {
        await manager.insert(HistoryEntity, {
          ...{ incidentNumber: verdict.incident ?? 0, at: new Date(), actor: caller.name },
          ...{ accountId: caller.accountId || null, kind: 'note' as const, act: null, text: said },
        });
      },
    });
    if (incident === null) throw new Error('An item made no incident');
    return { incident };
  }

  /** Where it lies, who opens it, and what was found, in sentences. */
  private async aboutOf(item: ItemEntity): Promise<string[]> {
    const place = await this.manager.findOneByOrFail(DiscoveryPlaceEntity, { id: item.placeId });
    const counts = item.found.map(
      ({ pattern, count, certainty }) =>
        `${count} × ${this.names.nameOf('pattern', pattern)}, certain to ${certainty}`,
    );
    return [
      `${item.path} in the place "${place.name}", opened by ${WORDS[item.reach]}.`,
      `Found: ${counts.join('; ')}.`,
    ];
  }

  private async submissionOf(
    item: ItemEntity,
    severity: Severity,
    about: readonly string[],
  ): Promise<Submission> {
    const place = await this.manager.findOneByOrFail(DiscoveryPlaceEntity, { id: item.placeId });
    const address = item.owner || place.owner || NOT_NAMED;
    const [person] = address === NOT_NAMED ? [] : await this.people.findByAddresses([address]);
    const text = [...about, ...(await this.excerptsOf(item.id))].filter((line) => line !== '').join('\n\n');
    return {
      ...{ channel: 'drive', activity: 'upload', at: new Date(), to: [], files: [], happened: true },
      person: person ?? { address },
      reportedBy: { name: DISCOVERY_ORIGIN, severity },
      texts: [
        { role: 'subject', path: ['subject'], text: item.path },
        { role: 'body', path: ['body'], text },
      ],
    };
  }

  /** Masked where they lie. */
  private async excerptsOf(itemId: string): Promise<string[]> {
    const evidence = await this.manager.findOneBy(ItemEvidenceEntity, { itemId });
    if (!evidence) return [];
    const { excerpts } = (await unsealJson(
      this.config.keys.installation,
      evidenceAt(itemId),
      evidence.sealed,
    )) as { readonly excerpts: readonly { readonly line: number; readonly text: string }[] };
    return excerpts.slice(0, EXCERPTS).map(({ line, text }) => `Line ${line}: ${text}`);
  }
}

/** The same content of an item makes the same incident. */
const keyOf = ({ id, digest }: Pick<ItemEntity, 'id' | 'digest'>): SubmittedBy => ({
  submitter: 'discovery',
  key: `item:${id}:${(digest ?? '').slice(0, 16)}`,
});

const WORDS: Readonly<Record<ItemEntity['reach'], string>> = {
  few: 'few people',
  organisation: 'everybody in the organisation',
  outside: 'people outside',
  'anybody-with-link': 'anybody with a link',
};
