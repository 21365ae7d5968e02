import * as comlink from 'comlink';
import { rigImpedance, rigRecording } from '@/core/rig/rig';

const service = { rigRecording, rigImpedance };

export type RigService = typeof service;
comlink.expose(service);
