/** Pages of different make, each as it is built once and once again: with other made-up names, and one more sibling. */
export interface Saved {
    name: string;
    /** @param h made-up letters for a name, other ones in each building; @param more one more sibling, in the second building */
    html: (h: (name: string) => string, more: string) => string;
    /** The element that somebody points at, by its words. */
    words: string;
    tag: string;
}

const listOf = (item: (words: string, i: number) => string, more: string): string =>
    (more ? [more] : []).concat(['One', 'Two', 'Three'].map(item)).join('');

export const PAGES: Saved[] = [
    {
        name: 'ids of a site of 2005',
        tag: 'TD',
        words: 'Opening hours',
        html: (_, more) => `<table><tr>${more && '<td>New</td>'}<td id="nav">Menu</td><td id="hours">Opening hours</td></tr></table>`,
    },
    {
        name: 'classes that read like names',
        tag: 'H2',
        words: 'Borrow a cello',
        html: (_, more) =>
            `<main>${more && '<section class="news"><h2 class="news-title">New</h2></section>'}<section class="offer"><h2 class="offer-title">Borrow a cello</h2></section><section class="hours"><h2 class="hours-title">Hours</h2></section></main>`,
    },
    {
        name: 'utility classes alone, with a test hook',
        tag: 'BUTTON',
        words: 'Join',
        html: (_, more) =>
            `<div class="flex gap-4">${more && '<button class="px-4 py-2 bg-white rounded-md">New</button>'}<button class="px-4 py-2 bg-white rounded-md">Cancel</button><button data-testid="join" class="px-4 py-2 bg-teal-600 rounded-md md:w-1/2 hover:underline">Join</button></div>`,
    },
    {
        name: 'utility classes alone, in a form',
        tag: 'INPUT',
        words: '',
        html: (_, more) =>
            `<form class="mt-4 space-y-2">${more && '<label class="block"><input class="w-full border p-2" name="phone"></label>'}<label class="block"><input class="w-full border p-2" type="email" name="email" data-own></label></form>`,
    },
    {
        name: 'hashed class names',
        tag: 'A',
        words: 'Catalogue',
        html: (h, more) =>
            `<nav class="Header_nav__${h('n')}">${more && `<a class="Header_link__${h('l')}" href="/new">New</a>`}<a class="Header_link__${h('l')}" href="/catalogue?from=${h('q')}">Catalogue</a><a class="Header_link__${h('l')}" href="/join">Join</a></nav>`,
    },
    {
        name: 'styled by made-up names',
        tag: 'BUTTON',
        words: 'Send',
        html: (h, more) =>
            `<div class="css-${h('a')}">${more && `<button type="button" class="css-${h('b')} e${h('c')}">New</button>`}<button type="submit" class="css-${h('b')} e${h('c')}">Send</button></div>`,
    },
    {
        name: 'ids that are counted',
        tag: 'BUTTON',
        words: 'Menu',
        html: (h, more) =>
            `<header>${more && `<button id=":r${h('i').length}:">New</button>`}<button id=":r1${h('x').slice(0, 1)}:" aria-label="Open the menu">Menu</button></header>`,
    },
    {
        name: 'a table whose rows lead somewhere',
        tag: 'TD',
        words: '12 euros',
        html: (_, more) =>
            `<table><tbody>${more && '<tr><td><a href="/i/harp">Harp</a></td><td>40 euros</td></tr>'}<tr><td><a href="/i/flute">Flute</a></td><td>9 euros</td></tr><tr><td><a href="/i/cello">Cello</a></td><td>12 euros</td></tr></tbody></table>`,
    },
    {
        name: 'rows by their links',
        tag: 'TR',
        words: 'Cello',
        html: (_, more) =>
            `<table><tbody>${more && '<tr><td><a href="/i/harp">Harp</a></td></tr>'}<tr><td><a href="/i/flute">Flute</a></td></tr><tr><td><a href="/i/cello">Cello</a></td></tr></tbody></table>`,
    },
    {
        name: 'elements of its own',
        tag: 'SHELF-CARD',
        words: 'Drum',
        html: (h, more) =>
            `<shelf-list>${more && '<shelf-card item="harp">Harp</shelf-card>'}<shelf-card data-item="flute" class="${h('c')}">Flute</shelf-card><shelf-card data-item="drum" class="${h('c')}">Drum</shelf-card></shelf-list>`,
    },
    {
        name: 'attributes of a tool that scopes styles',
        tag: 'P',
        words: 'We lend',
        html: (h, more) =>
            `<article data-v-${h('v')}="" class="about">${more && `<div data-v-${h('v')}="">New</div>`}<p data-v-${h('v')}="" class="lead">We lend</p></article>`,
    },
    {
        name: 'roles and labels',
        tag: 'DIV',
        words: 'Filters',
        html: (_, more) =>
            `<main><div role="search">Search</div>${more && '<div role="note">New</div>'}<div role="region" aria-label="Filters">Filters</div></main>`,
    },
    {
        name: 'one heading',
        tag: 'H1',
        words: 'Welcome',
        html: (h, more) => `<main class="${h('m')}">${more && '<p>New</p>'}<h1 class="${h('h')}">Welcome</h1><p>Words</p></main>`,
    },
    {
        name: 'a picture',
        tag: 'IMG',
        words: '',
        html: (h, more) =>
            `<figure>${more && '<img src="/new.png" alt="New">'}<img src="/img/${h('f')}.jpg" alt="The reading room" data-own></figure>`,
    },
    {
        name: 'blocks with an element in them',
        tag: 'SPAN',
        words: '24 €',
        html: (_, more) =>
            `<ul class="prices"><li class="price price--child">${more && '<em>New</em>'}<span class="price__sum">12 €</span></li><li class="price price--adult"><span class="price__sum">24 €</span></li></ul>`,
    },
    {
        name: 'states that come and go',
        tag: 'A',
        words: 'Borrow',
        html: (_, more) =>
            `<nav class="main-nav is-open">${more && '<a href="/new" class="active">New</a>'}<a href="/loan" class="${more ? '' : 'active'} item-loan">Borrow</a><a href="/join">Join</a></nav>`,
    },
    {
        name: 'a definition list',
        tag: 'DD',
        words: 'Monday to Friday',
        html: (_, more) => `<dl id="hours">${more && '<dt>New</dt>'}<dt>Days</dt><dd>Monday to Friday</dd></dl>`,
    },
    {
        name: 'cards with a heading that has an id',
        tag: 'P',
        words: 'Four chairs',
        html: (_, more) =>
            `<main><section><h2 id="stage">Stage</h2><p>One bench</p></section>${more && '<section><h2 id="new">New</h2><p>New</p></section>'}<section><h2 id="studio">Studio</h2><p>Four chairs</p></section></main>`,
    },
    {
        name: 'a page of a content system',
        tag: 'A',
        words: 'Read on',
        html: (_, more) =>
            `<div id="content"><article id="post-1482" class="post type-post hentry">${more && '<p>New</p>'}<h2 class="entry-title"><a href="/2026/03/new-flutes/" rel="bookmark">New flutes</a></h2><a class="more-link" href="/2026/03/new-flutes/">Read on</a></article><article class="post hentry"><a class="more-link" href="/2026/02/old-drums/">Read on, too</a></article></div>`,
    },
    {
        name: 'a select and its options',
        tag: 'OPTION',
        words: 'Tolland horn',
        html: (h, more) =>
            `<select class="${h('s')}" name="item">${listOf((words, i) => `<option value="i-${i}">${words}</option>`, more && '<option value="i-9">New</option>')}<option value="tolland-horn">Tolland horn</option></select>`,
    },
    {
        name: 'an element with a tree of its own, and what is slotted into it',
        tag: 'P',
        words: 'Open until ten',
        html: (h, more) =>
            `<main>${more && `<shop-card class="${h('c')}"><template shadowrootmode="open"><slot></slot></template><p slot="text">New</p></shop-card>`}<shop-card class="${h('c')}" data-shop="oak-street"><template shadowrootmode="open"><section class="${h('s')}"><h2>Oak Street</h2><slot name="text"></slot></section></template><p slot="text" class="${h('p')}">Open until ten</p></shop-card></main>`,
    },
    {
        name: 'elements with trees of their own, told apart by what is around them',
        tag: 'STAR-RATING',
        words: 'Four of five',
        html: (h, more) =>
            `<section id="flute">${more && '<p>New</p>'}<star-rating><template shadowrootmode="open"><b class="${h('b')}">★★★</b></template>Three of five</star-rating></section><section id="cello"><h2>Cello</h2><star-rating><template shadowrootmode="open"><b class="${h('b')}">★★★★</b></template>Four of five</star-rating></section>`,
    },
];
