export * from './ExpectedPage.ts';
export * from './readBack.ts';
export * from './openZip.ts';
