import type { Policy } from '@lantern/core/policy';
import type { PolicyId } from '@lantern/core/shared';
import type { PolicyDraftEntity } from './policy.entity.js';

export function toPolicy(entity: PolicyDraftEntity): Policy {
  return { id: entity.id as PolicyId, ...entity.definition };
}
