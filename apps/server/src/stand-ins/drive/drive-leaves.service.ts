import { isMeant } from '@lantern/core/directory';
import { EFFECTS, type Handler, type Label, mayDo } from '@lantern/core/labels';
import { type LowerableEffect } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { ownerForHandling } from '../../labels/carried-label.js';
import { handlerOf, type Player } from '../../directory/people.service.js';
import type { DriveFileEntity, DriveShareEntity } from './drive.entity.js';
import { DriveLabels } from './drive-labels.service.js';
import { type PlaceGuard, placeRefusal } from './places/place-guards.service.js';

/** Why somebody may not do something with a file; null where they may. */
export type Refusals = Readonly<Record<LowerableEffect, string | null>>;

/** What others may do with a file: what its place and its label let them, less what the rule lowered by which it was opened. */
@Injectable()
export class DriveLeaves {
  constructor(private readonly labels: DriveLabels) {}

  of(
    file: DriveFileEntity,
    player: Player,
    share: DriveShareEntity | null,
    guard: PlaceGuard | null,
  ): Refusals {
    const own = this.ofFile(file, player, share);
    const use = { kind: file.kind, byLink: share?.link === 'whoever-holds-it' };
    const why = (effect: LowerableEffect): string | null =>
      placeRefusal(guard, effect, player, use) ?? own[effect];
    return { read: why('read'), 'take-out': why('take-out'), 'make-another': why('make-another') };
  }

  private ofFile(file: DriveFileEntity, player: Player, share: DriveShareEntity | null): Refusals {
    if (player.address === ownerForHandling(file.label, file.owner))
      return { read: null, 'take-out': null, 'make-another': null };
    const label = this.labels.known(file);
    const why = (effect: LowerableEffect): string | null =>
      byLabel(effect, { file, handler: handlerOf(player), label, share }) ?? byRule(effect, player, share);
    return { read: why('read'), 'take-out': why('take-out'), 'make-another': why('make-another') };
  }

  /** Whether its label, or that of its place, does not let whoever a share is for read the file. */
  closes(
    file: DriveFileEntity,
    share: DriveShareEntity,
    { outside, guard }: { readonly outside: boolean; readonly guard: PlaceGuard | null },
  ): boolean {
    const holder = { person: null, name: '', address: share.address ?? '', outside, signedIn: true };
    const use = { kind: file.kind, byLink: share.link === 'whoever-holds-it' };
    if (placeRefusal(guard, 'read', holder, use)) return true;
    const handler = { address: share.address ?? '', outside };
    return byLabel('read', { file, handler, label: this.labels.known(file), share }) !== null;
  }

  /** Whether nobody outside can read it, whoever it is opened for. */
  keepsInside(file: DriveFileEntity): boolean {
    const handler = { address: '', outside: true };
    return byLabel('read', { file, handler, label: this.labels.known(file), share: null }) !== null;
  }
}

function byLabel(
  effect: LowerableEffect,
  {
    file,
    handler,
    label,
    share,
  }: {
    readonly file: DriveFileEntity;
    readonly handler: Handler;
    readonly label: Label | null;
    readonly share: DriveShareEntity | null;
  },
): string | null {
  if (!label) return null;
  // What a label leaves to whoever sets it is left to the owner, who names people by opening the file for them.
  const people = share?.address ? [share.address] : [];
  const named = Object.fromEntries(EFFECTS.map((each) => [each, people]));
  const item = {
    owner: ownerForHandling(file.label, file.owner),
    handling: label.handling,
    since: Date.parse(file.label?.at ?? '') || file.changedAt.getTime(),
    named,
  };
  return mayDo(effect, handler, item, Date.now()).allowed
    ? null
    : `Its label "${label.name}" does not let you do this. Ask its owner.`;
}

function byRule(effect: LowerableEffect, player: Player, share: DriveShareEntity | null): string | null {
  const lowered = (share?.treatments ?? []).some(
    (each) =>
      each.kind === 'lower-handling' &&
      each.effects.includes(effect) &&
      isMeant(each.people, handlerOf(player)),
  );
  return lowered ? 'A rule of the organisation does not allow this. Ask the owner.' : null;
}
