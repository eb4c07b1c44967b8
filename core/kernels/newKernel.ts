import type { Kernel } from './kernel';
import { PlainKernel } from './plainKernel';
import { WasmKernel } from './wasmKernel';

/**
 * The fastest kernel that works here.
 * @param sampleRate Hz
 * @param capacity frames a chunk can have
 */
export function newKernel(sampleRate: number, channels: number, capacity: number): Kernel {
  return WasmKernel.create(sampleRate, channels, capacity) ?? new PlainKernel(sampleRate, channels, capacity);
}
