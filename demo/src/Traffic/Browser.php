<?php

declare(strict_types=1);

namespace Demo\Traffic;

use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Formats\Moment;

/** Says what the in-page runtime would say: the same events, in the same form, for one visitor after another. */
final class Browser
{
    /**
     * @param list<Experiment> $running
     * @param list<string>     $deaf    experiments whose changes never find their element
     */
    public function __construct(
        private readonly array $running,
        private readonly Dice $dice,
        private readonly array $deaf = [],
    ) {
    }

    /**
     * The events that opening one page sends.
     *
     * @return list<array<string, mixed>>
     */
    public function open(string $visitor, string $url, ?string $referrer, \DateTimeImmutable $time): array
    {
        $events = [$this->event($visitor, 'page_view', $url, $referrer, $time, [])];
        foreach ($this->running as $experiment) {
            $given = $experiment->pages->matches($url) ? $experiment->assignerIn($experiment->epochAt($time))->assign($visitor) : null;
            if ($given?->variant === null) {
                continue;
            }
            $props = ['experiment' => $experiment->key, 'variant' => $given->variant];
            $events[] = $this->event($visitor, 'exposure', $url, $referrer, $time, [...$props, 'bucket' => $given->bucket]);
            $changes = $this->changes($experiment, $given->variant);
            if ($changes !== []) {
                $events[] = in_array($experiment->key, $this->deaf, true)
                    ? $this->event($visitor, 'change_missed', $url, $referrer, $time, [...$props, 'selectors' => $changes])
                    : $this->event($visitor, 'change_applied', $url, $referrer, $time, $props);
            }
        }

        return $events;
    }

    /** @return list<string> the selectors that a variant changes */
    private function changes(Experiment $experiment, string $variant): array
    {
        $declared = array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => $one->variant->key === $variant);

        return array_map(static fn (Change $change): string => $change->selector ?? $change->kind->value, array_merge(...array_map(static fn (DeclaredVariant $variant): array => $variant->made(), array_values($declared))));
    }

    /**
     * @param array<string, mixed> $props
     *
     * @return array<string, mixed>
     */
    private function event(string $visitor, string $name, string $url, ?string $referrer, \DateTimeImmutable $time, array $props): array
    {
        return [
            'id' => $this->dice->id(),
            'visitor' => $visitor,
            'time' => Moment::format($time),
            'name' => $name,
            'url' => $url,
            'referrer' => $referrer ?? '',
            'props' => $props,
        ];
    }
}
