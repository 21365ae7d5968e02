#!/usr/bin/env node
// Runs the bundled command line; bundles it first when the sources are newer.
import { bundleIfStale } from '../scripts/lib/bundle.mjs';

await bundleIfStale('fair');
await import(new URL('../dist/fair.mjs', import.meta.url));
