import { type Audience, isEverybody, type MachineTerm, type NamedMachines } from '@lantern/core/directory';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { DirectoryReferences, type Reference } from '../directory/directory-references.js';
import { PublishedRevision } from '../published/published-revision.js';
import { labelsOf } from '../published/published-labels.js';
import { type RevisionDocument, setOf } from '../published/revision.entity.js';
import { setSeenBy } from '../published/silence.js';
import { RevisionsService } from './revisions.service.js';

/** Tells the directory what means people by it, published and drafted, so that a change of people says whom it concerns. */
@Injectable()
export class WhoIsMeant implements OnModuleInit {
  constructor(
    private readonly references: DirectoryReferences,
    private readonly published: PublishedRevision,
    private readonly revisions: RevisionsService,
  ) {}

  onModuleInit(): void {
    this.references.add(async () => {
      const drafted = referencesOf(await this.revisions.document(), true);
      const current = this.published.current;
      const inForce = current ? referencesOf(current.document, false) : [];
      const said = new Set(inForce.map(({ of, audience }) => `${of}\n${JSON.stringify(audience)}`));
      // What is drafted as it is published is said once.
      const onlyDrafted = drafted.filter(
        ({ of, audience }) => !said.has(`${of}\n${JSON.stringify(audience)}`),
      );
      return [...inForce, ...onlyDrafted];
    });
    this.references.addMachines(async () => {
      const drafted = machinesOf(await this.revisions.document());
      const inForce = this.published.current ? machinesOf(this.published.current.document) : [];
      const said = new Set(inForce.map((each) => JSON.stringify(each)));
      return [
        ...inForce,
        ...drafted
          .filter((each) => !said.has(JSON.stringify(each)))
          .map((each) => ({ ...each, of: `${each.of} (draft)` })),
      ];
    });
  }
}

/** Audiences of a set by what they belong to. Silent rules are left out: who keeps the directory need not see them. */
function referencesOf(document: RevisionDocument, draft: boolean): Reference[] {
  const { policies, exchanges } = setSeenBy(setOf(document), { permissions: [] });
  const { labels, offers, automatic } = labelsOf(document);
  const parts: [string, unknown][] = [
    ...policies.flatMap(({ rules, ...policy }): [string, unknown][] => [
      [`policy "${policy.name}"`, policy],
      ...rules.map((rule, index): [string, unknown] => [
        `policy "${policy.name}", rule ${index + 1}${rule.name ? ` "${rule.name}"` : ''}`,
        rule,
      ]),
    ]),
    ...exchanges.map((exchange): [string, unknown] => [`exchange "${exchange.name}"`, exchange]),
    ...labels.map((label): [string, unknown] => [`label "${label.name}"`, label]),
    ...offers.map((offer): [string, unknown] => [`offer "${offer.name}"`, offer]),
    ...automatic.map((rule): [string, unknown] => [`automatic label "${rule.name}"`, rule]),
  ];
  return parts.flatMap(([of, part]) =>
    audiencesWithin(part)
      .filter((audience) => !isEverybody(audience))
      .map((audience) => ({ of, audience, draft })),
  );
}

/** Policies that are for some machines alone. */
function machinesOf(document: RevisionDocument): NamedMachines[] {
  const { policies } = setSeenBy(setOf(document), { permissions: [] });
  return policies.flatMap(({ name, where }): NamedMachines[] => {
    const machines = (terms: typeof where.with): MachineTerm[] =>
      terms.flatMap((term) => (term.kind === 'place' ? [] : [term]));
    const [there, without] = [machines(where.with), machines(where.without)];
    if (there.length + without.length === 0) return [];
    return [{ of: `policy "${name}"`, with: there, without, everywhere: where.with.length === 0 }];
  });
}

/** Audiences anywhere in a part of a set: conditions stand in conditions. */
function audiencesWithin(part: unknown): Audience[] {
  if (typeof part !== 'object' || part === null) return [];
  if (isAudience(part)) return [part];
  return Object.values(part).flatMap(audiencesWithin);
}

function isAudience(part: object): part is Audience {
  return 'with' in part && 'without' in part && Array.isArray(part.with) && Array.isArray(part.without);
}
