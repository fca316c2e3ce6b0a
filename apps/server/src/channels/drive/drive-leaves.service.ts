import { highest, isMeant, type Label, type LowerableEffect, mayDo } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { factsOf, type Player } from '../../people/people.service.js';
import { LabelsOfFiles } from '../labels-of-files.service.js';
import type { DriveFileEntity, DriveShareEntity } from './drive.entity.js';
import { DriveFiles } from './drive-files.service.js';

/** Why somebody may not do something with a file; null where they may. */
export type Refusals = Readonly<Record<LowerableEffect, string | null>>;

/** What others may do with a file: what its label lets them, less what the rule lowered by which it was opened. */
@Injectable()
export class DriveLeaves {
  constructor(
    private readonly files: DriveFiles,
    private readonly labels: LabelsOfFiles,
  ) {}

  async of(file: DriveFileEntity, player: Player, share: DriveShareEntity | null): Promise<Refusals> {
    if (player.address === file.owner) return { read: null, 'take-out': null, 'make-another': null };
    const label = highest(await this.labels.of([{ name: file.name, bytes: this.files.bytes(file) }]));
    const why = (effect: LowerableEffect): string | null =>
      byLabel(effect, { file, player, label }) ?? byRule(effect, player, share);
    return { read: why('read'), 'take-out': why('take-out'), 'make-another': why('make-another') };
  }
}

function byLabel(
  effect: LowerableEffect,
  {
    file,
    player,
    label,
  }: { readonly file: DriveFileEntity; readonly player: Player; readonly label: Label | null },
): string | null {
  if (!label) return null;
  const handler = { ...facts(player), outside: player.outside };
  const item = { owner: file.owner, handling: label.handling, since: file.changedAt.getTime(), named: {} };
  return mayDo(effect, handler, item, Date.now()).allowed
    ? null
    : `Its label "${label.name}" does not let you do this. Ask its owner.`;
}

function byRule(effect: LowerableEffect, player: Player, share: DriveShareEntity | null): string | null {
  const lowered = (share?.treatments ?? []).some(
    (each) =>
      each.kind === 'lower-handling' && each.effects.includes(effect) && isMeant(each.people, facts(player)),
  );
  return lowered ? 'A rule of the organisation does not let you do this with it. Ask its owner.' : null;
}

const facts = ({ person, address }: Player) => (person ? factsOf(person) : { address });
