import type { Policy, PolicyId } from '@lantern/core';
import type { PolicyDraftEntity } from './policy.entity.js';

export function toPolicy(entity: PolicyDraftEntity): Policy {
  return { id: entity.id as PolicyId, ...entity.definition };
}
