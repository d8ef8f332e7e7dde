import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..', '..', '..');

/** The built server as a process that can be killed, and made to fail. */
export class ChaosServer {
  private constructor(
    readonly address: string,
    private readonly child: ChildProcess,
    private readonly ended: Promise<unknown>,
  ) {}

  /** @throws with what the server said when it does not start. */
  static async start(dataFolder: string): Promise<ChaosServer> {
    const preload = join(import.meta.dirname, 'failOnPurpose.mjs');
    const child = spawn(process.execPath, ['--import', preload, join(root, 'apps', 'server', 'dist', 'main.js')], {
      env: { ...process.env, PORT: '0', JUMBLE_DATA: dataFolder },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    const ended = once(child, 'exit');
    let said = '';
    child.stderr!.on('data', (text: Buffer) => (said = (said + text.toString()).slice(-2000)));
    const address = await new Promise<string>((resolve, reject) => {
      child.stdout!.on('data', (text: Buffer) => {
        const match = /open at (http:\S+)/.exec(text.toString());
        if (match !== null) resolve(match[1]!);
      });
      void ended.then(() => reject(new Error(`The server did not start: ${said}`)));
    });
    return new ChaosServer(address, child, ended);
  }

  get isRunning(): boolean {
    return this.child.exitCode === null && this.child.signalCode === null;
  }

  /** From now on this share of what the disk and the database are asked to do fails. @returns how often it did so far. */
  async failBy(share: number): Promise<number> {
    const answer = once(this.child, 'message') as Promise<[{ failures: number }]>;
    this.child.send({ share });
    return (await answer)[0].failures;
  }

  async kill(): Promise<void> {
    this.child.kill('SIGKILL');
    await this.ended;
  }
}
