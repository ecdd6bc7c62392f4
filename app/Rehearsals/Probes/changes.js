/*
 * What a variant's changes come to on a page. Runs in a world of its own: it sees the page's elements, and the page sees
 * nothing of it. `pellixChanges(list)` makes the questions that can be asked again and again.
 */
const pellixChanges = (changes) => {
    const MOST = 5;
    const find = (selector) => {
        try {
            return Array.from(document.querySelectorAll(selector));
        } catch {
            return [];
        }
    };
    /** What a selector has found before, and may not find any more since the change was made to it. */
    const met = changes.map(() => new Set());
    const all = (change) => {
        const known = met[changes.indexOf(change)];
        find(change.selector).forEach((element) => known.size < 500 && known.add(element));
        return Array.from(known).filter((element) => element.isConnected);
    };
    const tidy = (text) => text.replace(/\s+/g, ' ').trim();
    const parsed = (html) => {
        const template = document.createElement('template');
        template.innerHTML = html;
        return template.content;
    };
    const written = (property, value) => {
        const probe = document.createElement('i');
        probe.style.setProperty(property, value, 'important');
        return probe.style.getPropertyValue(property);
    };
    const sheet = (css) => Array.from(document.querySelectorAll('style')).find((one) => one.textContent === css) ?? null;

    /** A short selector that finds the element, for people. */
    const path = (element) => {
        if (!(element instanceof Element)) {
            return '';
        }
        if (element.id) {
            return `#${CSS.escape(element.id)}`;
        }
        const parts = [];
        for (let one = element; one && parts.length < 4; one = one.parentElement) {
            const classes = Array.from(one.classList)
                .slice(0, 2)
                .map((name) => `.${CSS.escape(name)}`)
                .join('');
            if (one.id) {
                parts.unshift(`#${CSS.escape(one.id)}`);
                break;
            }
            parts.unshift(one.localName + classes);
            if (classes) {
                break;
            }
        }
        return parts.join(' > ');
    };

    /** What was put in by this change: elements whose text and tags are those that it brings. */
    const inserted = (change) => {
        const nodes = Array.from(parsed(change.value ?? '').childNodes).filter(
            (node) => node.nodeType === 1 || tidy(node.textContent ?? ''),
        );
        const first = nodes[0];
        if (!first) {
            return [];
        }
        if (first.nodeType !== 1) {
            return find(change.selector).filter((one) => tidy(one.parentElement?.textContent ?? '').includes(tidy(first.textContent)));
        }
        return Array.from(document.getElementsByTagName(first.localName)).filter(
            (one) =>
                one.isEqualNode(first) ||
                (tidy(one.textContent) === tidy(first.textContent) && Array.from(first.attributes).every((a) => one.hasAttribute(a.name))),
        );
    };

    const isAt = (element, to, place) => {
        if (place === 'first' || place === 'last') {
            return element.parentNode === to;
        }
        const side = place === 'before' ? Node.DOCUMENT_POSITION_PRECEDING : Node.DOCUMENT_POSITION_FOLLOWING;
        return element.parentNode === to.parentNode && (to.compareDocumentPosition(element) & side) !== 0;
    };

    /** Whether an element shows a change, as far as the document says; what it looks like is another question. */
    const holds = (element, change) => {
        const value = change.value ?? '';
        switch (change.kind) {
            case 'text':
                return tidy(element.textContent) === tidy(value);
            case 'html': {
                const wanted = parsed(value);
                return tidy(element.textContent) === tidy(wanted.textContent) && wanted.childElementCount === element.childElementCount;
            }
            case 'attribute':
                return element.getAttribute(change.attribute) === (change.value ?? null);
            case 'style':
                return (
                    element.style.getPropertyValue(change.property) === written(change.property, value) &&
                    element.style.getPropertyPriority(change.property) === 'important'
                );
            case 'hide':
                return element.style.getPropertyValue('display') === 'none';
            case 'class':
                return (
                    (change.add ?? []).every((name) => element.classList.contains(name)) &&
                    !(change.remove ?? []).some((name) => element.classList.contains(name))
                );
            case 'move':
                return find(change.to).some((to) => isAt(element, to, change.place));
            case 'insert':
                return find(change.selector).some((to) => isAt(element, to, change.place));
            default:
                return true;
        }
    };

    /** How one change stands in the document: "made", "other" (there is an element, without it), "none" (there is none), "unknown". */
    const stand = (change) => {
        if (change.kind === 'script' || (change.media && !matchMedia(change.media).matches)) {
            return 'unknown';
        }
        if (change.kind === 'sheet') {
            // One that a policy keeps from counting stands there all the same.
            return sheet(change.value ?? '')?.sheet ? 'made' : 'other';
        }
        if (change.kind === 'remove') {
            return find(change.selector).length === 0 ? 'made' : 'other';
        }
        if (change.kind === 'insert') {
            return inserted(change).length > 0 ? 'made' : find(change.selector).length > 0 ? 'other' : 'none';
        }
        const own = all(change);
        return own.length === 0 ? 'none' : own.every((element) => holds(element, change)) ? 'made' : 'other';
    };

    /** The elements that a change is to be seen on. */
    const seenOn = (change) => {
        if (change.kind === 'insert') {
            return inserted(change).slice(0, MOST);
        }
        return change.selector ? all(change).slice(0, MOST) : [];
    };

    const box = (element) => {
        const { x, y, width, height } = element.getBoundingClientRect();
        return [x, y, width, height].map(Math.round);
    };

    /** Whether anything of an element reaches the eye: no part of the way up to the page makes it invisible. */
    const isVisible = (element) =>
        getComputedStyle(element).display === 'contents'
            ? Array.from(element.children).some(isVisible)
            : element.checkVisibility({ opacityProperty: true, visibilityProperty: true, contentVisibilityAuto: true });

    const paints = (element, pseudo) => {
        const style = getComputedStyle(element, pseudo);
        if (pseudo && (style.content === 'none' || style.content === 'normal')) {
            return false;
        }
        const alpha = /rgba?\([^)]*[,/]\s*([\d.]+)\)$/.exec(style.backgroundColor);
        const solid =
            style.backgroundColor !== 'transparent' &&
            (style.backgroundColor.split(/[,/ ]+/).length < 4 ||
                !alpha ||
                Number(alpha[1]) > 0.5 ||
                !style.backgroundColor.startsWith('rgba'));
        return (
            Number(style.opacity) > 0.5 &&
            (solid ||
                style.backgroundImage !== 'none' ||
                ['img', 'video', 'canvas', 'iframe', 'picture', 'svg', 'object'].includes(element.localName))
        );
    };

    /** Whether something that hides it lies over a point of an element; returns what. */
    const coverAt = (element, x, y) => {
        for (const top of document.elementsFromPoint(x, y)) {
            if (top === element || element.contains(top) || top.contains(element)) {
                return null;
            }
            for (let one = top; one && !one.contains(element); one = one.parentElement) {
                if (paints(one) || paints(one, '::before') || paints(one, '::after')) {
                    return one;
                }
            }
        }
        return null;
    };

    /** What lets clicks through hides what is below it all the same: for the time of the question, nothing does. */
    const solid = (ask) => {
        const before = document.adoptedStyleSheets;
        const sheet = new CSSStyleSheet();
        sheet.replaceSync('*, *::before, *::after { pointer-events: auto !important }');
        document.adoptedStyleSheets = [...before, sheet];
        try {
            return ask();
        } finally {
            document.adoptedStyleSheets = before;
        }
    };

    /** Where something of an element is: the largest of its boxes; where it has none of its own, what it holds. */
    const area = (element) => {
        const size = ({ width, height }) => width * height;
        const own = Array.from(element.getClientRects()).sort((one, other) => size(other) - size(one))[0];
        if (own && size(own) > 0) {
            return own;
        }
        const style = getComputedStyle(element);
        if (style.display !== 'contents' && (style.overflowX !== 'visible' || style.overflowY !== 'visible')) {
            return own ?? element.getBoundingClientRect();
        }
        const range = document.createRange();
        range.selectNodeContents(element);
        return range.getBoundingClientRect();
    };

    /** Points of an element within the part of the page that is seen. */
    const points = (element) => {
        const { x, y, width, height } = area(element);
        const [left, top, right, bottom] = [
            Math.max(x, 0),
            Math.max(y, 0),
            Math.min(x + width, innerWidth),
            Math.min(y + height, innerHeight),
        ];
        return right - left < 1 || bottom - top < 1
            ? []
            : [
                  [0.5, 0.5],
                  [0.2, 0.3],
                  [0.8, 0.3],
                  [0.2, 0.7],
                  [0.8, 0.7],
              ].map(([a, b]) => [left + a * (right - left), top + b * (bottom - top)]);
    };

    const cover = (element) => {
        const all = points(element);
        const covers = all.map(([a, b]) => coverAt(element, a, b)).filter(Boolean);
        // Most of it: something that only touches it hides nothing of weight.
        return all.length > 0 && covers.length > all.length / 2 ? covers[0] : null;
    };

    const colour = (text) => {
        const [r, g, b, a] = (/^rgba?\(([^)]*)\)$/.exec(text)?.[1] ?? '').split(/[\s,/]+/).map(Number);
        return Number.isNaN(r) || r === undefined ? null : { rgb: `${r},${g},${b}`, alpha: a ?? 1 };
    };

    /** Whether the words of an element have a colour that cannot be told from what is behind them. */
    const isColourless = (element) => {
        const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT, (node) =>
            tidy(node.data) && node.parentElement.checkVisibility() ? NodeFilter.FILTER_ACCEPT : NodeFilter.FILTER_SKIP,
        );
        const of = walker.nextNode()?.parentElement;
        const style = of && getComputedStyle(of);
        const ink = style && colour(style.webkitTextFillColor || style.color);
        if (
            !ink ||
            style.backgroundClip === 'text' ||
            style.webkitBackgroundClip === 'text' ||
            (style.textShadow && style.textShadow !== 'none')
        ) {
            return false;
        }
        if (ink.alpha < 0.05) {
            return true;
        }
        // Something else may stand behind it, such as a picture that it is laid over.
        const stack = points(of)
            .slice(0, 1)
            .flatMap(([x, y]) => document.elementsFromPoint(x, y));
        if (stack.slice(stack.indexOf(of) + 1).some((one) => !one.contains(of) && paints(one))) {
            return false;
        }
        for (let one = of; one; one = one.parentElement) {
            const behind = getComputedStyle(one);
            const paper = colour(behind.backgroundColor);
            if (behind.backgroundImage !== 'none' || !paper || (paper.alpha > 0 && paper.alpha < 1)) {
                return false;
            }
            if (paper.alpha === 1) {
                return paper.rgb === ink.rgb;
            }
        }
        return ink.rgb === '255,255,255';
    };

    /** Why nothing of an element reaches the eye though its styles do not hide it; null where something does. */
    const hidden = (element) => {
        const { width, height } = area(element);
        if (width <= 0 || height <= 0 || element instanceof SVGElement) {
            return null;
        }
        const all = points(element);
        if (all.length === 0) {
            return 'off';
        }
        const isMet = all.some(([a, b]) => document.elementsFromPoint(a, b).some((one) => one === element || element.contains(one)));
        if (!isMet && !all.some(([a, b]) => coverAt(element, a, b))) {
            return 'clipped';
        }
        if (element.localName === 'img' && element.hasAttribute('src') && element.complete && element.naturalWidth === 0) {
            return 'picture';
        }
        return isColourless(element) ? 'colour' : null;
    };

    const describe = (element, change) => {
        element.scrollIntoView({ block: 'center', inline: 'nearest', behavior: 'instant' });
        const [over, why] = solid(() => [cover(element), hidden(element)]);
        const style = getComputedStyle(element);
        const { x, y, width, height } = area(element);
        return {
            path: path(element),
            holds: holds(element, change),
            visible: isVisible(element) && why === null,
            hidden: why,
            display: style.display,
            visibility: style.visibility,
            opacity: style.opacity,
            box: [x, y, width, height].map(Math.round),
            page: [Math.round(x + scrollX), Math.round(y + scrollY)],
            text: tidy(element.textContent).slice(0, 200),
            cover: over ? { path: path(over), position: getComputedStyle(over).position, z: getComputedStyle(over).zIndex } : null,
        };
    };

    /** A selector without what holds only at times, or only of a part of an element. */
    const lasting = (selector) =>
        selector.replace(
            /::[\w-]+(?:\([^)]*\))?|:(?:before|after|first-line|first-letter|hover|active|focus|focus-within|focus-visible|visited|target|checked|indeterminate|disabled|enabled|valid|invalid|user-invalid|placeholder-shown|popover-open|open|fullscreen)(?![\w-])/g,
            ':is(*)',
        );

    /** Rules of a sheet that was added, each with elements that it is for. */
    const rules = (css) => {
        const own = sheet(css)?.sheet;
        const all = [];
        const walk = (list) => {
            for (const rule of Array.from(list ?? [])) {
                // One of which the browser has understood nothing is empty.
                if (rule.selectorText && all.length < 20) {
                    all.push({
                        selector: rule.selectorText,
                        properties: Array.from(rule.style),
                        found: find(lasting(rule.selectorText)).length,
                    });
                } else if (!rule.selectorText && rule.cssRules && (!rule.media || matchMedia(rule.media.mediaText).matches)) {
                    walk(rule.cssRules);
                }
            }
        };
        walk(own?.cssRules);
        return all;
    };

    return {
        path,
        box,
        find,
        isVisible,
        seenOn,
        /** What stands where in the part of the page that is seen, the outer before the inner. */
        places: () =>
            Array.from(document.body.querySelectorAll('*'))
                .slice(0, 3000)
                .map((element) => [element, box(element)])
                .filter(
                    ([element, [x, y, w, h]]) =>
                        w > 0 &&
                        h > 0 &&
                        x < innerWidth &&
                        y < innerHeight &&
                        x + w > 0 &&
                        y + h > 0 &&
                        !['script', 'style', 'br'].includes(element.localName),
                )
                .slice(0, 300)
                .map(([element, where]) => [path(element), where]),
        changed: () =>
            changes.flatMap((change) =>
                [
                    ...seenOn(change),
                    ...(change.kind === 'sheet' ? rules(change.value ?? '').flatMap((rule) => find(rule.selector)) : []),
                    ...(change.to ? find(change.to) : []),
                    ...(change.selector && change.kind === 'insert' ? find(change.selector) : []),
                ].map(box),
            ),
        stands: () => changes.map(stand),
        details: () =>
            changes.map((change) => ({
                stand: stand(change),
                found: change.selector ? find(change.selector).length : 0,
                understood: change.kind !== 'style' || CSS.supports(change.property, change.value ?? ''),
                elements: seenOn(change).map((element) => describe(element, change)),
                rules: change.kind === 'sheet' ? rules(change.value ?? '') : [],
            })),
        /** What is shown, and where, of every change in the part of the page that is seen: for what a visitor saw, and when. */
        shown: () =>
            changes.map((change) => {
                const state = stand(change);
                const on =
                    change.kind === 'sheet'
                        ? rules(change.value ?? '')
                              .flatMap((rule) => find(rule.selector))
                              .slice(0, MOST)
                        : change.kind === 'insert' && state !== 'made'
                          ? []
                          : seenOn(change);
                const seen = on
                    .filter((element) => isVisible(element))
                    .map(box)
                    .filter(([x, y, w, h]) => w > 0 && h > 0 && x < innerWidth && y < innerHeight && x + w > 0 && y + h > 0);
                return [state, seen[0] ?? null];
            }),
    };
};
