<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Chain\Chain;
use Pellix\Core\Chain\State;
use Pellix\Core\Chain\Verdict;
use Pellix\Core\Wiring\Findings\Severity;

/** What speaks against figures: broken links of the chain block; so does what the last audit found, as long as nobody has explained or mended it. */
final class Objections
{
    /** How what was said of a finding stands, where it speaks against nothing any more: see `Audit\Standing`. */
    private const SETTLED = ['explained', 'mended'];

    /**
     * @param list<array<string, mixed>>|null                        $findings of the last audit; null where none was made
     * @param list<array{identity: string, standing: string, ...}> $said     of them
     *
     * @return list<array<string, mixed>> as `Gate` takes them
     */
    public static function of(Chain $chain, ?array $findings, array $said): array
    {
        $broken = array_values(array_filter($chain->verdicts, static fn (Verdict $one): bool => $one->state === State::Broken));
        $settled = [];
        foreach ($said as $one) {
            if (in_array($one['standing'], self::SETTLED, true)) {
                $settled[$one['identity']] = true;
            }
        }

        return [
            ...array_map(static fn (Verdict $one): array => self::one("chain.{$one->link->value}", Severity::Blocker, $one->link->value, $one->words), $broken),
            ...($findings === null ? [self::one('audit.none', Severity::Warning, 'data', 'Nobody has audited this data yet.')] : self::open($findings, $settled)),
        ];
    }

    /** @return list<array<string, mixed>> of an experiment that cannot even be read */
    public static function ofUnreadable(string $words): array
    {
        return [self::one('chain.unreadable', Severity::Blocker, 'data', $words)];
    }

    /** @return array<string, mixed> */
    private static function one(string $code, Severity $severity, string $link, string $message): array
    {
        return ['code' => $code, 'severity' => $severity->value, 'link' => $link, 'message' => $message, 'consequences' => []];
    }

    /**
     * What follows from something that was explained is told by itself.
     *
     * @param list<array<string, mixed>> $findings
     * @param array<string, true>        $settled
     *
     * @return list<array<string, mixed>>
     */
    private static function open(array $findings, array $settled): array
    {
        $open = [];
        foreach ($findings as $one) {
            /** @var list<array<string, mixed>> $own */
            $own = $one['consequences'] ?? [];
            $consequences = self::open($own, $settled);
            $identity = is_string($one['identity'] ?? null) ? $one['identity'] : '';
            if (isset($settled[$identity])) {
                array_push($open, ...$consequences);
            } else {
                $open[] = [...$one, 'consequences' => $consequences];
            }
        }

        return $open;
    }
}
