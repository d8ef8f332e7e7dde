import { StyleSheet } from '@emotion/sheet';
import { TextDecoder, TextEncoder } from 'node:util';

// The simulated browser lacks them; libraries expect them.
Object.assign(globalThis, { TextDecoder, TextEncoder });
// It lays nothing out, but would go through every style of MUI for each element that is looked for by its role.
StyleSheet.prototype.insert = () => undefined;
