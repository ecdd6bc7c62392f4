/** Names of the IANA database that the browser knows, with the one of this machine. */
export const ZONES: string[] = typeof Intl.supportedValuesOf === 'function' ? ['UTC', ...Intl.supportedValuesOf('timeZone')] : ['UTC'];
export const CURRENCIES: string[] = typeof Intl.supportedValuesOf === 'function' ? Intl.supportedValuesOf('currency') : [];
export const ownZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
