import { CSS } from './styles';

/** What the page does not hear of: whoever types into the Loupe types nothing into the page. */
const OWN = ['keydown', 'keyup', 'keypress', 'input', 'change', 'click', 'mousedown', 'pointerdown', 'focusin', 'focusout', 'submit'];

/** A place of its own beside the page's body, which neither the page's styles nor its scripts reach into. */
export function makeHost(): HTMLElement {
    const host = document.createElement('plx-loupe');
    const root = host.attachShadow({ mode: 'closed' });
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(CSS);
    // A policy of the page forbids style elements, and not this.
    root.adoptedStyleSheets = [sheet];
    const place = document.createElement('div');
    place.className = 'loupe';
    root.append(place);
    OWN.forEach((name) => host.addEventListener(name, (event) => event.stopPropagation()));
    document.documentElement.append(host);

    return place;
}
