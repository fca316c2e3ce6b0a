import { type Carrier, changesForPeople, type PersonChange, type WholeLabelSet } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { InsideMail } from '../platform/inside-mail.js';
import { factsOf, PeopleService } from '../directory/people.service.js';

const CARRIER_WORDS: Readonly<Record<Carrier, string>> = {
  document: 'documents',
  mail: 'mails',
  chat: 'chats',
  calendar: 'appointments',
  place: 'places',
};
const FROM = 'labels@localhost';

/** Tells people in one mail what a published set of labels changes for them, and from when. */
@Injectable()
export class LabelTelling {
  constructor(
    private readonly people: PeopleService,
    private readonly inside: InsideMail,
  ) {}

  /** Within the transaction that publishes, so that nobody hears of a set that never came about. Gives how many were told. */
  async tell(
    manager: EntityManager,
    before: WholeLabelSet,
    after: WholeLabelSet,
    now: Date,
  ): Promise<number> {
    const people = await this.people.all();
    // Offers of a later day are told now: that is what beforehand means.
    const begun = (set: WholeLabelSet): WholeLabelSet => ({
      ...set,
      offers: set.offers.map((offer) => ({ ...offer, from: null })),
    });
    const changes = changesForPeople(begun(before), begun(after), people.map(factsOf), now.getTime());
    const from = new Map(after.offers.map(({ id, from: day }) => [id, day]));
    let told = 0;
    for (const person of people) {
      const mine = changes.filter(
        (change) =>
          change.address === person.address && change.offer !== null && change.offer.telling.trim() !== '',
      );
      if (mine.length === 0) continue;
      told += 1;
      await this.inside.send(manager, {
        at: now,
        from: FROM,
        to: person.address,
        subject: 'Changes to your labels',
        text: bodyOf(mine, (id) => from.get(id) ?? null),
      });
    }
    return told;
  }
}

function bodyOf(
  changes: readonly PersonChange[],
  from: (id: NonNullable<PersonChange['offer']>['id']) => string | null,
): string {
  const tellings = [...new Set(changes.map(({ offer }) => offer?.telling.trim() ?? ''))];
  const lines = changes.map(({ carrier, gains, loses, otherTerms, offer }) => {
    const day = offer ? from(offer.id) : null;
    const parts = [
      ...(gains.length > 0 ? [`you can choose ${gains.join(', ')}`] : []),
      ...(loses.length > 0 ? [`you can no longer choose ${loses.join(', ')}`] : []),
      ...(otherTerms && gains.length + loses.length === 0 ? ['other terms hold'] : []),
    ];
    return `· For ${CARRIER_WORDS[carrier]}, ${day === null ? 'from now on' : `from ${day}`}: ${parts.join('; ')}.`;
  });
  return [...tellings, '', ...lines].join('\n');
}
