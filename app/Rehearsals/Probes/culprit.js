/*
 * Says which script takes away or fills again the elements that a selector finds. Runs beside the page's own scripts, in a visit
 * that is made for this question alone.
 */
((selectors) => {
    const said = new Set();
    const say = (element, how) => {
        const selector = selectors.find((one) => {
            try {
                return element instanceof Element && (element.matches(one) || element.querySelector(one));
            } catch {
                return false;
            }
        });
        if (!selector) {
            return;
        }
        const line = (new Error().stack ?? '').split('\n').slice(1).map((one) => /(https?:\/\/[^\s)]+):(\d+):\d+/.exec(one)).find((found) => found && !/\/s\/plx_[a-z0-9]+\.js/.test(found[1]));
        if (line && !said.has(selector)) {
            said.add(selector);
            console.debug('pellix-rehearsal took ' + JSON.stringify([selector, line[1], Number(line[2]), how, Math.round(performance.now())]));
        }
    };
    const method = (of, name, taken) => {
        const own = of[name];
        of[name] = function (...args) {
            taken.call(this, args).forEach((element) => element && say(element, name));
            return own.apply(this, args);
        };
    };
    const property = (of, name, isOuter) => {
        const own = Object.getOwnPropertyDescriptor(of, name);
        Object.defineProperty(of, name, {
            ...own,
            set(value) {
                (isOuter ? [this] : [this, ...(this.children ?? [])]).forEach((element) => say(element, name));
                own.set.call(this, value);
            },
        });
    };
    ['remove', 'replaceWith', 'replaceChildren', 'setAttribute', 'removeAttribute'].forEach((name) => method(Element.prototype, name, function () { return [this]; }));
    method(Node.prototype, 'removeChild', (args) => [args[0]]);
    method(Node.prototype, 'replaceChild', (args) => [args[1]]);
    property(Element.prototype, 'innerHTML', false);
    property(Element.prototype, 'outerHTML', true);
    property(Node.prototype, 'textContent', false);
    property(HTMLElement.prototype, 'innerText', false);
})(pellixSelectors);
