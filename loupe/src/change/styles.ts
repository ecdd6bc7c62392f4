/** Properties that have controls of their own, in the groups in which people look for them. */
export const GROUPS: { name: string; properties: Property[] }[] = [
    {
        name: 'Text',
        properties: [
            { property: 'color', label: 'Colour', control: 'colour' },
            { property: 'font-size', label: 'Size', control: 'length' },
            { property: 'font-weight', label: 'Weight', control: 'choice', options: ['300', '400', '500', '600', '700', '800'] },
            { property: 'font-family', label: 'Font', control: 'font' },
            { property: 'line-height', label: 'Line height', control: 'length' },
            { property: 'text-align', label: 'Aligned', control: 'choice', options: ['start', 'center', 'end', 'justify'] },
            { property: 'text-transform', label: 'Letters', control: 'choice', options: ['none', 'uppercase', 'lowercase', 'capitalize'] },
        ],
    },
    {
        name: 'Box',
        properties: [
            { property: 'background-color', label: 'Background', control: 'colour' },
            { property: 'width', label: 'Width', control: 'length' },
            { property: 'padding-top', label: 'Inside, top', control: 'length' },
            { property: 'padding-right', label: 'Inside, right', control: 'length' },
            { property: 'padding-bottom', label: 'Inside, bottom', control: 'length' },
            { property: 'padding-left', label: 'Inside, left', control: 'length' },
            { property: 'margin-top', label: 'Around, top', control: 'length' },
            { property: 'margin-right', label: 'Around, right', control: 'length' },
            { property: 'margin-bottom', label: 'Around, bottom', control: 'length' },
            { property: 'margin-left', label: 'Around, left', control: 'length' },
        ],
    },
    {
        name: 'Border',
        properties: [
            { property: 'border-style', label: 'Line', control: 'choice', options: ['none', 'solid', 'dashed', 'dotted', 'double'] },
            { property: 'border-width', label: 'Width', control: 'length' },
            { property: 'border-color', label: 'Colour', control: 'colour' },
            { property: 'border-radius', label: 'Corners', control: 'length' },
        ],
    },
    {
        name: 'Shown',
        properties: [
            { property: 'visibility', label: 'Visibility', control: 'choice', options: ['visible', 'hidden'] },
            { property: 'opacity', label: 'Opacity', control: 'text' },
        ],
    },
];

export interface Property {
    property: string;
    label: string;
    control: 'colour' | 'length' | 'choice' | 'font' | 'text';
    options?: string[];
}

export const UNITS = ['px', 'rem', 'em', '%', 'vw'];

/** A length as a number and its unit; what is none has no number. */
export function lengthOf(value: string): { number: string; unit: string } {
    const found = /^(-?[\d.]+)([a-z%]+)$/.exec(value.trim());

    return found ? { number: String(Math.round(Number(found[1]) * 100) / 100), unit: found[2] } : { number: '', unit: 'px' };
}

/** Fonts that the page uses somewhere, so that one of them can be chosen without typing it. */
export function fontsOf(page: Document): string[] {
    const all = new Set<string>();
    for (const element of Array.from(page.querySelectorAll('body, h1, h2, h3, p, a, button, input, li, td')).slice(0, 200)) {
        all.add(getComputedStyle(element).fontFamily);
    }

    return [...all, 'system-ui, sans-serif', 'Georgia, serif', 'ui-monospace, monospace'].filter((one, i, list) => list.indexOf(one) === i);
}
