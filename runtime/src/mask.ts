const EMAIL = /[^\s/?#&=:;,<>"']+(?:@|%40)[^\s/?#&=:;,<>"'@%]+\.[a-z]{2,}/gi;
/** With a plus in front, two noughts and a group, or brackets: a plain row of digits may be any number. */
const PHONE = /(?:\+|%2B|\b00\d{1,3}(?:[\s().-]|%20))\d(?:(?:[\s().-]|%20)?\d){7,13}\b|\(\d{2,5}\)[\s-]?\d{3,}(?:[\s-]?\d{2,}){1,3}/gi;
const CARD = /\b\d(?:(?:[ -]|%20)?\d){12,18}\b/g;

/** Takes out what looks like an e-mail address, a card number or a phone number. */
export function mask(text: string): string {
    return text
        .replace(EMAIL, '[email]')
        .replace(CARD, (digits) => (isCard(digits.replace(/%20|\D/g, '')) ? '[card]' : digits))
        .replace(PHONE, '[phone]');
}

/** The same in every text of a value; names of properties are the site's own. */
export function maskAll(value: unknown, depth = 0): unknown {
    if (typeof value === 'string') {
        return mask(value);
    }
    if (typeof value !== 'object' || value === null || depth > 6) {
        return value;
    }
    if (Array.isArray(value)) {
        return value.map((one) => maskAll(one, depth + 1));
    }

    return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, maskAll(one, depth + 1)]));
}

/** The check digit of ISO/IEC 7812-1, annex B (the Luhn formula). */
function isCard(digits: string): boolean {
    let sum = 0;
    for (let i = 0; i < digits.length; i++) {
        const digit = Number(digits[digits.length - 1 - i]) * (i % 2 ? 2 : 1);
        sum += digit > 9 ? digit - 9 : digit;
    }

    return digits.length >= 13 && sum % 10 === 0;
}
