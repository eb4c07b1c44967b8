/**
 * The part of the WebAssembly interface that the core uses. It is the same in browsers, workers and Node, but belongs to
 * none of the libraries the core is compiled with.
 * Source: W3C, WebAssembly JavaScript Interface.
 */
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
  }
  class Instance {
    readonly exports: Record<string, unknown>;
    constructor(module: Module, imports?: Record<string, Record<string, unknown>>);
  }
  class Memory {
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
  function validate(bytes: Uint8Array<ArrayBuffer>): boolean;
}
