import type { Readable } from 'node:stream';

/** What is kept in files, by kind. */
export type FileKind = 'original' | 'grey' | 'thumbnail' | 'cuts' | 'handoff' | 'reference';

/** Keeps bytes under the SHA-256 of their content; nothing is ever half there. */
export interface FileStore {
  /** Takes over a finished file. @returns its hash and size. */
  adopt(kind: FileKind, path: string): Promise<{ hash: string; sizeBytes: number }>;
  put(kind: FileKind, bytes: Uint8Array): Promise<{ hash: string; sizeBytes: number }>;
  /** Where a file lies, for readers on this machine. */
  pathOf(kind: FileKind, hash: string): string;
  read(kind: FileKind, hash: string): Readable;
  remove(kind: FileKind, hash: string): Promise<void>;
  /** A fresh path for something that is still being written. */
  incoming(): string;
}

/** Injection token of the {@link FileStore}. */
export const FILE_STORE = Symbol('FileStore');
