/** The library has no types of its own; `openStretch` is the compiled module that a kept patch lets out. */
declare module 'signalsmith-stretch' {
  import type { StretchModule } from './core/mix'
  export function openStretch(): Promise<StretchModule>
}
