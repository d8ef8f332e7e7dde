import {
  Column,
  Entity,
  Index,
  JoinColumn,
  ManyToOne,
  OneToMany,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
} from 'typeorm';

@Entity('job')
export class JobEntity {
  @PrimaryColumn('text') id: string;
  @Column('text') name: string;
  @Column('text', { name: 'due_on', nullable: true }) dueOn: string | null;
  @Column('text', { name: 'created_at' }) createdAt: string;
  @Column('integer', { name: 'cast_revision', default: 0 }) castRevision: number;
  /** Which colours are in force: scene or scratch. */
  @Column('text', { default: 'scene' }) palette: string;
  /** JSON of HoldLimits; null is the usual. */
  @Column('text', { nullable: true }) holds: string | null;
  /** JSON of JobChecks; null is the usual. */
  @Column('text', { nullable: true }) checks: string | null;
  /** JSON of a JobTrap; null is the usual. */
  @Column('text', { nullable: true }) trap: string | null;
  /** JSON of a TrimDto. */
  @Column('text', { nullable: true }) trim: string | null;
  @Column('text', { nullable: true }) series: string | null;
  @Column('text', { nullable: true }) client: string | null;
  /** JSON of a JobRate. */
  @Column('text', { nullable: true }) rate: string | null;
  /** JSON of a WorkCalendar; null is the usual. */
  @Column('text', { nullable: true }) calendar: string | null;
  @OneToMany(() => PageEntity, (page) => page.job) pages: Relation<PageEntity>[];
}

@Entity('page')
export class PageEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'job_id' }) jobId: string;
  @ManyToOne(() => JobEntity, (job) => job.pages, { onDelete: 'CASCADE' })
  @JoinColumn({ name: 'job_id' })
  job: Relation<JobEntity>;
  @Column('text') name: string;
  @Column('integer') position: number;
  @Column('text', { name: 'file_name' }) fileName: string;
  @Column('text', { name: 'file_hash' }) fileHash: string;
  @Column('text') format: string;
  @Column('text') mode: string;
  @Column('integer', { name: 'bits_per_channel' }) bitsPerChannel: number;
  @Column('integer') width: number;
  @Column('integer') height: number;
  @Column('real', { nullable: true }) dpi: number | null;
  @Column('text', { name: 'grey_hash' }) greyHash: string;
  @Column('integer') revision: number;
  /** Revision of page and cast sheet that counts and thumbnail belong to. */
  @Column('text', { name: 'drawn_state' }) drawnState: string;
  @Column('integer', { name: 'region_count' }) regionCount: number;
  @Column('integer', { name: 'filled_count' }) filledCount: number;
  @Column('text', { name: 'thumbnail_hash', nullable: true }) thumbnailHash: string | null;
  /** Cuts found in the page, and the sign of the reading they belong to. */
  @Column('text', { name: 'cuts_hash', nullable: true }) cutsHash: string | null;
  @Column('text', { name: 'cuts_sign', nullable: true }) cutsCacheKey: string | null;
  @Column('text', { name: 'previous_grey_hash', nullable: true }) previousGreyHash: string | null;
  /** Where the page is worked on at half size: the raster of the file itself, and its size. */
  @Column('text', { name: 'full_grey_hash', nullable: true }) fullGreyHash: string | null;
  /** Number in the book, as people write it; null is its place in the job. */
  @Column('text', { name: 'book_number', nullable: true }) bookNumber: string | null;
  @Column('integer', { name: 'is_spread', default: 0 }) isSpread: number;
  @Column('text', { name: 'due_on', nullable: true }) dueOn: string | null;
  /** Who works on it. */
  @Column('text', { nullable: true }) person: string | null;
  /** What was agreed about it. */
  @Column('text', { nullable: true }) agreed: string | null;
  /** JSON of PageFacts, of the state that was drawn last. */
  @Column('text', { nullable: true }) measures: string | null;
  @Column('integer', { name: 'full_width', nullable: true }) fullWidth: number | null;
  @Column('integer', { name: 'full_height', nullable: true }) fullHeight: number | null;
  @OneToMany(() => PageInkEntity, (ink) => ink.page, { eager: true }) inks: Relation<PageInkEntity>[];
}

/** A further ink file of a page; its name and what it does are decisions in the page's document. */
@Entity('page_ink')
export class PageInkEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'page_id' }) pageId: string;
  @ManyToOne(() => PageEntity, (page) => page.inks, { onDelete: 'CASCADE' })
  @JoinColumn({ name: 'page_id' })
  page: Relation<PageEntity>;
  @Column('text', { name: 'file_name' }) fileName: string;
  @Column('text', { name: 'file_hash' }) fileHash: string;
  @Column('text') format: string;
  @Column('text') mode: string;
  @Column('text', { name: 'grey_hash' }) greyHash: string;
  @Column('text', { name: 'full_grey_hash', nullable: true }) fullGreyHash: string | null;
  @Column('text', { name: 'created_at' }) createdAt: string;
}

/** The log of page documents and cast sheets: only ever appended to. */
@Entity('step')
@Index('step_scope_revision', ['scope', 'scopeId', 'revision'], { unique: true })
export class StepEntity {
  @PrimaryGeneratedColumn({ type: 'integer' }) seq: number;
  @Column('text') scope: 'page' | 'cast';
  @Column('text', { name: 'scope_id' }) scopeId: string;
  @Column('integer') revision: number;
  @Column('text') kind: 'do' | 'undo' | 'redo';
  @Column('integer', { name: 'of_seq', nullable: true }) ofSeq: number | null;
  @Column('text') label: string;
  @Column('text') edits: string;
  @Column('text') inverse: string;
  @Column('text') at: string;
  /** Who did it, where the browser was given a name. */
  @Column('text', { nullable: true }) person: string | null;
}

/** A page document as it stood at a revision, so that opening does not replay everything. */
@Entity('page_snapshot')
export class PageSnapshotEntity {
  @PrimaryColumn('text', { name: 'page_id' }) pageId: string;
  @Column('integer') revision: number;
  @Column('text') records: string;
}

@Entity('cast_group')
export class CastGroupEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text') id: string;
  @Column('text') name: string;
  @Column('real', { name: 'sort_order' }) order: number;
  @Column('real', { nullable: true }) stack: number | null;
  @Column('text', { nullable: true }) kind: string | null;
}

@Entity('cast_part')
export class CastPartEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'group_id' }) groupId: string;
  @Column('text') name: string;
  @Column('real', { name: 'sort_order' }) order: number;
  @Column('text', { nullable: true }) slot: string | null;
  @Column('integer') empty: number;
  @Column('text', { nullable: true }) scratch: string | null;
  @Column('text', { nullable: true }) notes: string | null;
  @Column('real', { nullable: true }) stack: number | null;
  /** The part it is a marking on. */
  @Column('text', { name: 'on_part', nullable: true }) onPart: string | null;
  /** JSON of a TrapRule. */
  @Column('text', { nullable: true }) trap: string | null;
}

/** A picture that lies beside the cast sheet. */
@Entity('reference_picture')
export class ReferencePictureEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'job_id' }) jobId: string;
  @Column('text') name: string;
  /** A PNG of our own making, whatever came. */
  @Column('text', { name: 'file_hash' }) fileHash: string;
  @Column('integer') width: number;
  @Column('integer') height: number;
  @Column('text', { name: 'created_at' }) createdAt: string;
}

/** A part that was merged into another. */
@Entity('part_alias')
export class PartAliasEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'part_id' }) partId: string;
}

@Entity('scene')
export class SceneEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text') id: string;
  @Column('text') name: string;
  @Column('real', { name: 'sort_order' }) order: number;
}

/** The colour of a part in a scene. */
@Entity('part_colour')
export class PartColourEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text', { name: 'scene_id' }) sceneId: string;
  @PrimaryColumn('text', { name: 'part_id' }) partId: string;
  @Column('text') colour: string;
}

/** What a job is delivered by. */
@Entity('delivery_rule')
export class DeliveryRuleEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text') id: string;
  /** JSON of a DeliveryRule without its id. */
  @Column('text') rule: string;
}

/** A printer's ICC profile. */
@Entity('profile')
export class ProfileEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'job_id' }) jobId: string;
  @Column('text') name: string;
  @Column('text', { name: 'file_hash' }) fileHash: string;
  @Column('text', { name: 'created_at' }) createdAt: string;
}

/** One hand-off of one or more pages: files, palette and checksums in an archive. */
@Entity('package')
export class PackageEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'job_id' }) jobId: string;
  /** JSON of the DeliveryRule as it was then. */
  @Column('text') rule: string;
  @Column('text') palette: 'scene' | 'scratch';
  @Column('text') state: 'packing' | 'ready' | 'failed' | 'cancelled';
  @Column('text', { nullable: true }) problem: string | null;
  @Column('text', { name: 'file_name' }) fileName: string;
  @Column('text', { name: 'file_hash', nullable: true }) fileHash: string | null;
  @Column('integer', { name: 'size_bytes', nullable: true }) sizeBytes: number | null;
  @Column('text', { name: 'created_at' }) createdAt: string;
}

/** The file of a page in a package. */
@Entity('handoff')
export class HandoffEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'package_id' }) packageId: string;
  @Column('text', { name: 'page_id' }) pageId: string;
  @Column('integer') place: number;
  /** Which state of page and cast sheet it was made from. */
  @Column('text', { name: 'made_from' }) madeFrom: string;
  @Column('integer', { name: 'page_revision' }) pageRevision: number;
  @Column('text') state: 'waiting' | 'building' | 'ready' | 'failed' | 'cancelled';
  @Column('text', { nullable: true }) problem: string | null;
  @Column('text', { name: 'file_name' }) fileName: string;
  @Column('text', { name: 'file_hash', nullable: true }) fileHash: string | null;
  @Column('integer', { name: 'size_bytes', nullable: true }) sizeBytes: number | null;
  /** JSON of a ReadBackReport. */
  @Column('text', { name: 'read_back', nullable: true }) readBack: string | null;
}

/** A file that came back for a page, as it is, and what became of the flats in it. */
@Entity('returned_file')
export class ReturnedFileEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'page_id' }) pageId: string;
  @Column('text', { name: 'file_name' }) fileName: string;
  @Column('text', { name: 'file_hash' }) fileHash: string;
  @Column('integer', { name: 'size_bytes' }) sizeBytes: number;
  /** JSON of a ReturnedReport. */
  @Column('text') report: string;
  @Column('text', { name: 'created_at' }) createdAt: string;
}

/** Line art and flats from elsewhere that are checked before anyone takes them over. */
@Entity('foreign_check')
export class ForeignCheckEntity {
  @PrimaryColumn('text') id: string;
  @Column('text', { name: 'job_id' }) jobId: string;
  @Column('text', { name: 'ink_name' }) inkName: string;
  @Column('text', { name: 'ink_hash' }) inkHash: string;
  @Column('text', { name: 'flats_name', nullable: true }) flatsName: string | null;
  @Column('text', { name: 'flats_hash', nullable: true }) flatsHash: string | null;
  @Column('text', { name: 'picture_hash', nullable: true }) pictureHash: string | null;
  /** JSON of what was found; null before there are flats. */
  @Column('text', { nullable: true }) found: string | null;
  @Column('text', { name: 'created_at' }) createdAt: string;
}

/** Time that was worked on a page in a day, by stage and person; corrections by hand stand apart. */
@Entity('work_time')
export class WorkTimeEntity {
  @PrimaryColumn('text', { name: 'page_id' }) pageId: string;
  @PrimaryColumn('text') stage: string;
  @PrimaryColumn('text') person: string;
  /** `YYYY-MM-DD` */
  @PrimaryColumn('text') day: string;
  @PrimaryColumn('integer', { name: 'by_hand' }) byHand: number;
  @Column('integer') seconds: number;
  @Column('text', { nullable: true }) note: string | null;
}

/** Until when a person's time is counted: two tabs of one count once. */
@Entity('person_clock')
export class PersonClockEntity {
  @PrimaryColumn('text') person: string;
  @Column('integer', { name: 'until_ms' }) untilMs: number;
}

/** What happened to a job beside the steps of its documents. */
@Entity('log_entry')
export class LogEntryEntity {
  @PrimaryGeneratedColumn({ type: 'integer' }) id: number;
  @Column('text', { name: 'job_id' }) jobId: string;
  @Column('text', { name: 'page_id', nullable: true }) pageId: string | null;
  @Column('text') kind: string;
  @Column('text') what: string;
  @Column('text', { nullable: true }) person: string | null;
  @Column('text') at: string;
}

/** Why something in the logbook was done. */
@Entity('log_note')
export class LogNoteEntity {
  @PrimaryColumn('text', { name: 'job_id' }) jobId: string;
  @PrimaryColumn('text') entry: string;
  @Column('text') why: string;
}

export const ENTITIES = [
  JobEntity,
  PageEntity,
  PageInkEntity,
  StepEntity,
  PageSnapshotEntity,
  CastGroupEntity,
  CastPartEntity,
  PartAliasEntity,
  ReferencePictureEntity,
  SceneEntity,
  PartColourEntity,
  DeliveryRuleEntity,
  ProfileEntity,
  PackageEntity,
  HandoffEntity,
  ReturnedFileEntity,
  ForeignCheckEntity,
  WorkTimeEntity,
  PersonClockEntity,
  LogEntryEntity,
  LogNoteEntity,
];
