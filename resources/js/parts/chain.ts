import type { LinkName } from '../api/client';

/** The seven links in their order, with what each declares and what it is observed by. */
export const LINKS: { link: LinkName; label: string; question: string }[] = [
    { link: 'page', label: 'Page', question: 'Do pages exist that the experiment is for?' },
    { link: 'snippet', label: 'Snippet', question: 'Does the code run on those pages?' },
    { link: 'entry', label: 'Entry', question: 'Do as many visitors enter as declared?' },
    { link: 'split', label: 'Split', question: 'Do visitors split as the weights say, and keep their variant?' },
    { link: 'exposure', label: 'Exposure', question: 'Do visitors see what their variant declares?' },
    { link: 'goals', label: 'Goals', question: 'Does what should count arrive?' },
    { link: 'data', label: 'Data', question: 'Do events arrive whole and in time?' },
];

const SEVERITY = ['broken', 'unseen', 'doubt', 'stale', 'holds'];

/** The place of a chain among others: the worse, the smaller. */
export function severity(links: { state: string }[]): number {
    return Math.min(...links.map((link) => SEVERITY.indexOf(link.state)));
}
