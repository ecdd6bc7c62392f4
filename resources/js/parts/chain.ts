import type { LinkName, LinkState } from '../api/client';
import { gravity, LINK_LABELS } from './vocabulary';

/** The seven links in their order, with what each declares and what it is observed by. */
const QUESTIONS: Record<LinkName, string> = {
    page: 'Do pages exist that the experiment is for?',
    snippet: 'Does the code run on those pages?',
    entry: 'Do as many visitors enter as declared?',
    split: 'Do visitors split as the weights say, and keep their variant?',
    exposure: 'Do visitors see what their variant declares?',
    goals: 'Does what should count arrive?',
    data: 'Do events arrive whole and in time?',
};

export const LINKS = (Object.entries(LINK_LABELS) as [LinkName, string][]).map(([link, label]) => ({
    link,
    label,
    question: QUESTIONS[link],
}));

/** The place of a chain among others: the worse, the smaller. */
export function severity(links: { state: LinkState }[]): number {
    return Math.min(...links.map((link) => gravity(link.state)));
}
