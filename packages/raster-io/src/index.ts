export * from './decodeFlats.ts';
export * from './decodePage.ts';
export * from './decodeReference.ts';
export * from './decodeRgba.ts';
export * from './encodePng.ts';
export * from './makeFolder.ts';
export * from './PageFileError.ts';
export * from './writeWhole.ts';
