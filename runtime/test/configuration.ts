import type { Configuration } from '../src/types';

/** A site that takes events and has nothing installed. */
export const CONFIGURATION: Configuration = {
    number: 1,
    site: 'plx_aaaaaaaaaaaaaaaa',
    collector: '',
    hosts: ['localhost'],
    domain: null,
    cookieSeconds: 3600,
    sessionSeconds: 1800,
    dataLayer: null,
    dataEvents: [],
    ask: false,
    gpc: false,
    experiments: [],
    wiring: 0,
    tags: [],
};
