import {
  type NamedAudience,
  type AudienceTerm,
  type NamedMachines,
  termValue,
} from '@lantern/core/directory';
import { Injectable } from '@nestjs/common';

/** Everything that means people by the directory: audiences of policies, rules and offers. */
export interface Reference extends NamedAudience {
  readonly draft: boolean;
}

/** Told by what lies above the directory, so that a change can say whom it concerns before it is made. */
@Injectable()
export class DirectoryReferences {
  private readonly sources: (() => Promise<readonly Reference[]>)[] = [];
  private readonly machineSources: (() => Promise<readonly NamedMachines[]>)[] = [];

  add(source: () => Promise<readonly Reference[]>): void {
    this.sources.push(source);
  }

  /** The same for what is for some machines. */
  addMachines(source: () => Promise<readonly NamedMachines[]>): void {
    this.machineSources.push(source);
  }

  async machines(): Promise<readonly NamedMachines[]> {
    return (await Promise.all(this.machineSources.map((source) => source()))).flat();
  }

  async all(): Promise<readonly Reference[]> {
    return (await Promise.all(this.sources.map((source) => source()))).flat();
  }

  /** Audiences that name a group, department, office, person or domain. */
  async using(kind: AudienceTerm['kind'], name: string): Promise<readonly Reference[]> {
    const wanted = name.toLowerCase();
    const names = (term: AudienceTerm): boolean =>
      term.kind === kind && termValue(term).toLowerCase() === wanted;
    return (await this.all()).filter(({ audience }) => [...audience.with, ...audience.without].some(names));
  }
}
