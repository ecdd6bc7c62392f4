/** Widths that a change can be bound to, as people call them (common practice, no source). */
export const WIDTHS: [media: string, label: string][] = [
    ['(max-width: 600px)', 'phones: up to 600 pixels wide'],
    ['(min-width: 601px) and (max-width: 1024px)', 'tablets: 601 to 1024 pixels wide'],
    ['(max-width: 1024px)', 'phones and tablets: up to 1024 pixels wide'],
    ['(min-width: 1025px)', 'larger screens: from 1025 pixels on'],
];

const PART = /\((min|max)-width:\s*(\d+)px\)/g;

/** A condition on the width of the screen, in words. */
export function widthWords(media: string): string {
    const parts = new Map(Array.from(media.matchAll(PART), ([, end, pixels]) => [end, pixels]));
    const [least, most] = [parts.get('min'), parts.get('max')];

    return least && most ? `${least} to ${most} pixels wide` : most ? `up to ${most} pixels wide` : `from ${least} pixels on`;
}
