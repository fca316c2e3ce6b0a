import { execFileSync } from 'node:child_process';

/** A network of its own that reaches this machine at one address and nothing else. */
export interface NetworkApart {
  /** Words before a command that runs in it. */
  readonly within: readonly string[];
  /** This machine as it is seen from there. */
  readonly here: string;
  remove(): void;
}

// Two addresses of the block for trials of network devices (RFC 2544).
const HERE = '198.18.78.1';
const THERE = '198.18.78.2';

/** Makes one by the kernel's network namespaces; null where this account may not, as in many containers. */
export function networkApart(): NetworkApart | null {
  const name = `story-${process.pid}`;
  const [hereEnd, thereEnd] = [`sh-${process.pid}`, `st-${process.pid}`];
  const ip = (...words: readonly string[]) => execFileSync('ip', [...words], { stdio: 'ignore' });
  const within = ['ip', 'netns', 'exec', name];
  try {
    ip('netns', 'add', name);
    ip('link', 'add', hereEnd, 'type', 'veth', 'peer', 'name', thereEnd, 'netns', name);
    ip('addr', 'add', `${HERE}/30`, 'dev', hereEnd);
    ip('link', 'set', hereEnd, 'up');
    ip('netns', 'exec', name, 'ip', 'addr', 'add', `${THERE}/30`, 'dev', thereEnd);
    ip('netns', 'exec', name, 'ip', 'link', 'set', thereEnd, 'up');
    return { within, here: HERE, remove: () => ip('netns', 'del', name) };
  } catch {
    return null;
  }
}
