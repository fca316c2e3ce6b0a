import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

/** An address that tickets go to. */
@Entity('web_hook')
export class HookEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 500 })
  url: string;

  /** Key of its signatures, sealed. */
  @Column('blob')
  secret: Buffer;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'varchar', length: 120 })
  createdBy: string;
}

/** One event on its way to a web hook. */
@Entity('hook_delivery')
@Index('delivery_next', ['state', 'nextAt'])
@Index('delivery_hook', ['hookId', 'at'])
export class DeliveryEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => HookEntity, { name: 'delivery_hook_row', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  hookId: string;

  @Column({ type: 'int' })
  incidentNumber: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** The event as it is sent, word for word: a signature is over its bytes. */
  @Column('mediumtext')
  body: string;

  @Column({ type: 'varchar', length: 12 })
  state: 'waiting' | 'delivered' | 'failed';

  @Column({ type: 'int' })
  attempts: number;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  nextAt: Date | null;

  @Column({ type: 'varchar', length: 200, nullable: true })
  answer: string | null;
}
