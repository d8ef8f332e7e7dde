import { expose } from 'comlink';
import { PageComputer } from './PageComputer.ts';

expose(new PageComputer((bytes) => new SharedArrayBuffer(bytes)));
