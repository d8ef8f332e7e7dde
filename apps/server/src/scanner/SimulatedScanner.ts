import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { ScannerView } from '@jumble/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { SERVER_CONFIG, type ServerConfig } from '../config.ts';
import { notFound } from '../errors/DomainError.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';

/**
 * Stands in for a scanner: the pictures in its tray are the sheets, and scanning one gives it paper tone,
 * uneven light, noise, dirt and the turn it was laid down with.
 */
@Injectable()
export class SimulatedScanner {
  constructor(
    @Inject(SERVER_CONFIG) private readonly config: ServerConfig,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
  ) {}

  async describe(): Promise<ScannerView> {
    const names = await this.sheetNames();
    return {
      name: 'Simulated scanner',
      sheets: names.map((name) => ({ id: name, name: name.replace(/\.png$/, '') })),
    };
  }

  /** Scans a sheet into a PNG file. @returns the name of the sheet. */
  async scan(sheetId: string, skewDegrees: number, target: string): Promise<string> {
    // Only what lies in the tray can be asked for: the id is compared, never made into a path.
    const sheet = (await this.sheetNames()).find((name) => name === sheetId);
    if (sheet === undefined) throw notFound('sheet in the scanner');
    await this.pool.run({ kind: 'scan', sheetPath: join(this.config.scannerTray!, sheet), skewDegrees, target });
    return sheet;
  }

  private async sheetNames(): Promise<string[]> {
    if (this.config.scannerTray === null) return [];
    const entries = await readdir(this.config.scannerTray).catch(() => []);
    return entries.filter((name) => name.endsWith('.png')).sort();
  }
}
