import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** Ends sign-ins or confirmed identities of a person within the caller's transaction. Returns how many there were. */
export type SignsOut = (manager: EntityManager, address: string, by: string) => Promise<number>;

/** Registry of everything that can sign a person out. */
@Injectable()
export class SignOut {
  private readonly programs: SignsOut[] = [];

  offeredBy(program: SignsOut): void {
    this.programs.push(program);
  }

  /** Signs a person out everywhere. Returns how many sign-ins ended. */
  async end(manager: EntityManager, address: string, by: string): Promise<number> {
    let ended = 0;
    for (const program of this.programs) ended += await program(manager, address, by);
    return ended;
  }
}
