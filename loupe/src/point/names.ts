/** Why a name of an element is no good to find it by again; null where it is. */
export function weakness(name: string): string | null {
    if (STATES.test(name)) {
        return 'it says what state the element is in, and comes and goes';
    }
    if (isUtility(name)) {
        return 'it says what the element looks like, and not what it is';
    }
    if (isGenerated(name)) {
        return 'it looks made by a machine, and will be another one when the site is built anew';
    }

    return null;
}

const STATES =
    /^(?:(?:is|has|was|js|ng|no)-.+|active|inactive|open|opened|closed|collapsed|expanded|selected|checked|current|disabled|enabled|hover|focus|focused|visible|hidden|show|shown|hide|loading|loaded|ready|sticky|scrolled|dragging|animating|entered|entering|leaving|first|last|odd|even)$/i;

/** Names of single properties of style, each with a value, which thousands of elements have. */
const PROPERTY =
    /^-?(?:[mp][trblxyse]?|[wh]|min-[wh]|max-[wh]|gap(?:-[xy])?|top|left|right|bottom|inset(?:-[xy])?|z|order|col|row|grid|flex|text|bg|border(?:-[trblxy])?|rounded(?:-[trbl]{1,2})?|shadow|font|leading|tracking|items|justify|self|content|place|space-[xy]|divide(?:-[xy])?|overflow(?:-[xy])?|opacity|cursor|transition|duration|ease|delay|translate(?:-[xy])?|scale|rotate|object|float|clear|d|fs|fw|lh|align|whitespace|list|ring|outline|fill|stroke|sr|aspect|columns|basis|grow|shrink|select|pointer-events|resize|size)-/;
const VALUE =
    /-(?:-?[\d.]+|xs|sm|md|base|lg|\d?xl|full|auto|none|screen|px|min|max|fit|white|black|transparent|current|inherit|[a-z]+-\d{2,3}|center|start|end|between|around|evenly|stretch|baseline|top|bottom|left|right|middle|hidden|visible|scroll|wrap|nowrap|cover|contain|bold|semibold|medium|normal|light|thin|tight|loose|wide|clip|ellipsis|block|inline|grid|flex|pointer|default|all|colors|opacity|transform|in|out|dashed|dotted|solid|only|reverse|(?:span|cols|rows)-\d+|[trblxy]|[trblxy]-\d+)$/;
const PLAIN =
    /^(?:block|inline|inline-block|flow-root|contents|static|fixed|absolute|relative|container|row|wrap|nowrap|clearfix|pull-(?:left|right)|center|middle|grid|flex|table|antialiased|isolate|bold|small|large)$/;

function isUtility(name: string): boolean {
    return PLAIN.test(name) || /[^:]:|[[\]/!]/.test(name) || (PROPERTY.test(name) && VALUE.test(name));
}

/** Whether a name, or a part of it, has no words in it: random letters and digits, as tools make them that build sites. */
export function isGenerated(name: string): boolean {
    if (/[:«»]|^\d|^_[^_]/.test(name) || name.length > 60) {
        return true;
    }

    return name.split(/[-_.]+/).some((part, i, all) => isRandom(part, i > 0 && i === all.length - 1));
}

function isRandom(part: string, isLast: boolean): boolean {
    if (part.length < 4) {
        return false;
    }
    if (/^\d{4,}$/.test(part) && !/^(?:19|20)\d\d$/.test(part)) {
        return true;
    }
    if (/^[0-9a-f]{6,}$/i.test(part) && /\d/.test(part)) {
        return true;
    }
    // A number within letters, which no word has; one or two digits at the end are a count.
    if (/[a-z]\d+[a-z]/i.test(part) || /^\d+[a-z]+\d/i.test(part) || (isLast && /[a-z]\d{3,}$/i.test(part))) {
        return true;
    }
    // Words that are written together begin with a capital each, and are longer than two letters.
    const words = part.split(/(?=[A-Z])/);
    if (words.length > 2 && words.filter((word) => word.length < 3).length > 1) {
        return true;
    }

    return /[bcdfghjklmnpqrstvwxz]{5,}/i.test(part) || (part.length >= 5 && !/[aeiouy]/i.test(part));
}
