import { execFileSync } from 'node:child_process';

/** A network of its own that reaches this machine at one address and nothing else. */
export interface NetworkApart {
  /** Words before a command that runs in it. */
  readonly within: readonly string[];
  /** This machine as it is seen from there. */
  readonly here: string;
  remove(): void;
}

/**
 * Makes one by the kernel's network namespaces; null where this account may not, as in many containers. Addresses are of the
 * block for trials of network devices (RFC 2544); `block` tells those that run beside each other apart.
 */
export function networkApart(block: number): NetworkApart | null {
  const name = `lantern-${process.pid}`;
  const [hereEnd, thereEnd] = [`here-${process.pid}`, `there-${process.pid}`];
  const [here, there] = [`198.18.${block}.1`, `198.18.${block}.2`];
  const ip = (...words: readonly string[]) => execFileSync('ip', [...words], { stdio: 'ignore' });
  const within = ['ip', 'netns', 'exec', name];
  try {
    ip('netns', 'add', name);
    ip('link', 'add', hereEnd, 'type', 'veth', 'peer', 'name', thereEnd, 'netns', name);
    ip('addr', 'add', `${here}/30`, 'dev', hereEnd);
    ip('link', 'set', hereEnd, 'up');
    ip('netns', 'exec', name, 'ip', 'addr', 'add', `${there}/30`, 'dev', thereEnd);
    ip('netns', 'exec', name, 'ip', 'link', 'set', thereEnd, 'up');
    return { within, here, remove: () => ip('netns', 'del', name) };
  } catch {
    return null;
  }
}
