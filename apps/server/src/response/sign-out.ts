import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** Ends where somebody is signed in or believed, within the caller's transaction. Gives how many things that were. */
export type SignsOut = (manager: EntityManager, address: string, by: string) => Promise<number>;

/** Programs of people that know who is signed in; each registers how it ends that. */
@Injectable()
export class SignOut {
  private readonly programs: SignsOut[] = [];

  offeredBy(program: SignsOut): void {
    this.programs.push(program);
  }

  /** Everywhere at once; none where the person is signed in nowhere. */
  async end(manager: EntityManager, address: string, by: string): Promise<number> {
    let ended = 0;
    for (const program of this.programs) ended += await program(manager, address, by);
    return ended;
  }
}
