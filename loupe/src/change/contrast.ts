/** Red, green, blue from 0 to 255, and how much it covers from 0 to 1. */
export type Colour = [red: number, green: number, blue: number, alpha: number];

/** Contrast that text needs, and from which size on it counts as large (WCAG 2.2, success criterion 1.4.3; 1 pt is 4/3 px). */
const NORMAL = 4.5;
const LARGE = 3;
const LARGE_PX = 24;
const LARGE_BOLD_PX = 18.66;
const BOLD = 700;

/** How light a colour is to the eye, from 0 to 1 (WCAG 2.2, "relative luminance"). */
export function luminance([red, green, blue]: Colour): number {
    const [r, g, b] = [red, green, blue]
        .map((one) => one / 255)
        .map((one) => (one <= 0.04045 ? one / 12.92 : ((one + 0.055) / 1.055) ** 2.4));

    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** From 1 to 21 (WCAG 2.2, "contrast ratio"). */
export function ratio(a: Colour, b: Colour): number {
    const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);

    return (light + 0.05) / (dark + 0.05);
}

/** A colour over an opaque one (W3C Compositing and Blending Level 1, 5.1: source over). */
export function over([r, g, b, alpha]: Colour, below: Colour): Colour {
    const mix = (one: number, other: number): number => one * alpha + other * (1 - alpha);

    return [mix(r, below[0]), mix(g, below[1]), mix(b, below[2]), 1];
}

export interface Contrast {
    ratio: number;
    needed: number;
    holds: boolean;
}

/** Of an element's text against what is behind it; null where a picture or a gradient is, or a colour that cannot be read. */
export function contrastOf(element: Element): Contrast | null {
    const style = getComputedStyle(element);
    const text = colour(style.color);
    const behind = backgroundOf(element);
    if (text === null || behind === null) {
        return null;
    }
    const size = parseFloat(style.fontSize);
    const needed = size >= LARGE_PX || (size >= LARGE_BOLD_PX && Number(style.fontWeight) >= BOLD) ? LARGE : NORMAL;
    const value = ratio(over(text, behind), behind);

    return { ratio: value, needed, holds: value >= needed };
}

function backgroundOf(element: Element): Colour | null {
    const layers: Colour[] = [];
    for (let at: Element | null = element; at; at = at.parentElement) {
        const { backgroundColor, backgroundImage } = getComputedStyle(at);
        const own = colour(backgroundColor);
        if (own === null || (backgroundImage !== 'none' && backgroundImage !== '')) {
            return null;
        }
        layers.unshift(own);
        if (own[3] === 1) {
            break;
        }
    }

    // Behind everything, browsers paint white.
    return layers.reduce((below, one) => over(one, below), [255, 255, 255, 1] as Colour);
}

const RGB = /^rgba?\(\s*([\d.]+)[\s,]+([\d.]+)[\s,]+([\d.]+)(?:[\s,/]+([\d.]+)(%?))?\s*\)$/;

/** A computed colour; one of another colour space as the browser paints it. */
export function colour(text: string): Colour | null {
    const found = RGB.exec(text);
    if (found) {
        const alpha = found[4] === undefined ? 1 : Number(found[4]) / (found[5] ? 100 : 1);

        return [Number(found[1]), Number(found[2]), Number(found[3]), alpha];
    }
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = 1;
    const context = canvas.getContext('2d');
    if (!context || !CSS.supports('color', text)) {
        return null;
    }
    context.fillStyle = text;
    context.fillRect(0, 0, 1, 1);
    const [r, g, b, a] = context.getImageData(0, 0, 1, 1).data;

    return [r, g, b, a / 255];
}

/** As colour fields take it. */
export function hex([r, g, b]: Colour): string {
    return `#${[r, g, b].map((one) => Math.round(one).toString(16).padStart(2, '0')).join('')}`;
}
