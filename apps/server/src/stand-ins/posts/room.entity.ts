import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A room or a direct conversation of the chat stand-in. */
@Entity('chat_room')
export class RoomEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'boolean' })
  direct: boolean;

  /** Addresses of everybody in it; those outside are guests. */
  @Column('json')
  members: string[];
}
