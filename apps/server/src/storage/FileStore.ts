import type { Readable } from 'node:stream';

/** What is kept in files, by kind. */
export const FILE_KINDS = [
  'original',
  'grey',
  'thumbnail',
  'cuts',
  'handoff',
  'package',
  'profile',
  'returned',
  'foreign',
  'reference',
] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** A file of the store, by the SHA-256 of its content. */
export interface FileName {
  readonly kind: FileKind;
  readonly hash: string;
}

/** A finished file that is safe on the disk, but not in its place yet. */
export interface StagedFile extends FileName {
  readonly path: string;
  readonly sizeBytes: number;
}

/** Keeps bytes under the SHA-256 of their content; nothing is ever half there. */
export interface FileStore {
  /** A fresh path for something that is still being written. */
  incoming(): string;
  /** Reads a finished file through and makes sure that the disk has it. */
  stage(kind: FileKind, path: string): Promise<StagedFile>;
  stageBytes(kind: FileKind, bytes: Uint8Array): Promise<StagedFile>;
  /** Moves a staged file to its place; one with the same bytes that lies there is replaced. */
  place(file: StagedFile): Promise<void>;
  /** Where a file lies, for readers on this machine. */
  pathOf(kind: FileKind, hash: string): string;
  read(kind: FileKind, hash: string): Readable;
  remove(kind: FileKind, hash: string): Promise<void>;
  /** The hashes of all files of a kind. */
  list(kind: FileKind): Promise<string[]>;
}

/** Injection token of the {@link FileStore}. */
export const FILE_STORE = Symbol('FileStore');
