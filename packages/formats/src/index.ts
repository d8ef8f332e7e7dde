export * from './cast/castFiles.ts';
export * from './handoff/buildOpenRaster.ts';
export * from './openRaster/OpenRaster.ts';
export * from './openRaster/readOpenRaster.ts';
export * from './openRaster/writeOpenRaster.ts';
export * from './png/encodeFlatsPng.ts';
export * from './png/setPngFacts.ts';
