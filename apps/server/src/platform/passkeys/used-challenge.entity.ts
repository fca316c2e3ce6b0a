import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A challenge that was answered: no answer counts twice. */
@Entity('used_challenge')
export class UsedChallengeEntity {
  @PrimaryColumn({ type: 'char', length: 64 })
  challengeHash: string;

  @Column({ type: 'datetime', precision: 3 })
  expiresAt: Date;
}
