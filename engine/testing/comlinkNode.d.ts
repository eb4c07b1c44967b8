declare module 'comlink/dist/esm/node-adapter.mjs' {
  const nodeEndpoint: unknown;
  export default nodeEndpoint;
}
