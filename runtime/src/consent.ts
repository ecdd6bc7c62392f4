import { keeping } from './keeping';
import type { Configuration, Tag } from './types';
import { eraseVisitor, readCookie, writeCookie } from './visitor';

const CONSENT = 'plx_consent';

/** What the visitor has agreed to; null where nobody has asked yet. */
export function consent(cookies = keeping.cookies()): string[] | null {
    return readCookie(CONSENT, cookies)?.split('.').filter(Boolean) ?? null;
}

/** Keeps what the visitor agrees to; without statistics, everything that would tell this visitor again is erased. */
export function keepConsent(configuration: Configuration, categories: string[]): void {
    writeCookie(configuration, CONSENT, categories.join('.') || 'none');
    if (!categories.includes('statistics')) {
        eraseVisitor(configuration);
    }
}

/** Whether the visitor has agreed to a category, or needs not be asked. */
export function allows(configuration: Configuration, category: Tag['consent'], cookies = keeping.cookies()): boolean {
    const given = consent(cookies);
    if (given) {
        return given.includes(category);
    }
    const refused = configuration.gpc && (navigator as Navigator & { globalPrivacyControl?: boolean }).globalPrivacyControl === true;

    return !configuration.ask && !refused;
}
