/**
 * What a rehearsal types in the place of what somebody has typed: data of nobody, by what the field is for
 * (core/src/Rehearsal/MadeUp.php). Of what was typed, nothing is kept.
 */
export function madeUp(field: HTMLInputElement | HTMLTextAreaElement): string {
    const label = Array.from(field.labels ?? [], ({ textContent }) => textContent).join(' ');
    const name = [field.name, field.id, field.autocomplete, field.placeholder, field.getAttribute('aria-label') ?? '', label].join(' ');
    switch (field.type) {
        case 'email':
            return '{mail}';
        case 'tel':
            return '{phone}';
        case 'number':
        case 'range':
            return (field as HTMLInputElement).min || '1';
        case 'date':
            return '2031-05-14';
        case 'month':
            return '2031-05';
        case 'week':
            return '2031-W20';
        case 'time':
            return '10:30';
        case 'datetime-local':
            return '2031-05-14T10:30';
        case 'url':
            return 'https://example.org/';
    }

    return /mail/i.test(name)
        ? '{mail}'
        : /phone|\btel|mobile/i.test(name)
          ? '{phone}'
          : /zip|postal|postcode|plz/i.test(name)
            ? '10115'
            : /street|address/i.test(name)
              ? '{street}'
              : /town|city/i.test(name)
                ? '{town}'
                : /name/i.test(name)
                  ? '{name}'
                  : '{text}';
}
