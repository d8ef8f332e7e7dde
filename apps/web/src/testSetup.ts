import { TextDecoder, TextEncoder } from 'node:util';

// The simulated browser lacks them; libraries expect them.
Object.assign(globalThis, { TextDecoder, TextEncoder });
