import type { Schemas } from '../api/client';
import { inWords } from '../parts/ruleRows';

export type Tag = Schemas['Tag'];
export type Trigger = Schemas['Trigger'];

export const KINDS: Record<Tag['kind'], string> = { script: 'Script', html: 'HTML', image: 'Image pixel' };
export const CONSENTS: Record<Tag['consent'], string> = {
    necessary: 'needs no consent',
    statistics: 'with consent to statistics',
    marketing: 'with consent to marketing',
};
export const ONCE: Record<Tag['once'], string> = {
    page: 'once a page',
    session: 'once a session',
    visitor: 'once a visitor',
    no: 'every time',
};
export function triggerInWords(trigger: Trigger): string {
    const pages = trigger.pages ? inWords(trigger.pages) : 'always';
    const on = pages === 'always' ? '' : `, where ${pages}`;
    switch (trigger.kind) {
        case 'page':
            return `page opened${on}`;
        case 'event':
            return `event ${trigger.name}${trigger.when ? ` with ${inWords(trigger.when)}` : ''}${on}`;
        case 'click':
            return `click on ${trigger.selector}${on}`;
        case 'form':
            return `form ${trigger.selector} sent${on}`;
        case 'element':
            return `${trigger.selector} is on the page${on}`;
        case 'time':
            return `${trigger.seconds} s on the page${on}`;
        case 'scroll':
            return `scrolled to ${trigger.percent} %${on}`;
        case 'data':
            return `push with ${trigger.when ? inWords(trigger.when) : 'anything'}${on}`;
    }
}

export function newTrigger(kind: Trigger['kind'], before?: Trigger): Trigger {
    const pages = before?.pages ?? { all: [] };
    switch (kind) {
        case 'page':
            return { kind, pages };
        case 'event':
            return { kind, name: '', pages };
        case 'click':
        case 'form':
        case 'element':
            return { kind, selector: '', pages };
        case 'time':
            return { kind, seconds: 30, pages };
        case 'scroll':
            return { kind, percent: 50, pages };
        case 'data':
            return { kind, when: { fact: 'data.event', op: 'is', value: '' }, pages };
    }
}

export const FIELD_WORDS: Record<string, string> = {
    name: 'name',
    kind: 'kind',
    code: 'code',
    consent: 'consent',
    triggers: 'triggers',
    once: 'how often',
    after: 'order',
};
