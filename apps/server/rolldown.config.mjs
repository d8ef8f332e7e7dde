// The server with the workspace's own packages inside; everything from the registry stays outside.
export default {
  input: { main: 'src/main.ts', pageWorker: 'src/workers/pageWorker.ts' },
  platform: 'node',
  external: (id) => !/^(\.|\/|\0|@jumble\/|@oxc-project\/)/.test(id),
  tsconfig: '../../tsconfig.json',
  transform: { assumptions: { setPublicClassFields: true }, typescript: { removeClassFieldsWithoutInitializer: true } },
  output: {
    dir: 'dist',
    format: 'esm',
    sourcemap: true,
    entryFileNames: '[name].js',
    chunkFileNames: '[name]-[hash].js',
  },
};
