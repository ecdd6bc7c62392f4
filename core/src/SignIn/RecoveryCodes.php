<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

use Random\Engine;
use Random\Randomizer;

/**
 * Codes for whoever has lost their authenticator, each good for once: look-up secrets (NIST SP 800-63B-4, section 3.1.2). With 120 bits
 * each they are more than the 112 from which on a hash without salt is enough to keep them.
 */
final class RecoveryCodes
{
    public const MANY = 10;
    private const BYTES = 15;

    /** @return list<string> as they are shown, in groups of four: `abcd-efgh-…` */
    public static function make(Engine $engine): array
    {
        $chance = new Randomizer($engine);

        return array_map(static fn (): string => implode('-', str_split(strtolower(Base32::encode($chance->getBytes(self::BYTES))), 4)), range(1, self::MANY));
    }

    /** What is kept of a code. Case, spaces and hyphens do not matter when it is typed. */
    public static function hash(string $code): string
    {
        return hash('sha256', strtolower((string) preg_replace('/[\s-]+/', '', $code)));
    }

    /**
     * @param list<string> $hashes those that were not used yet
     *
     * @return list<string>|null those that are left once this one is used; null where it is none of them
     */
    public static function without(string $code, array $hashes): ?array
    {
        $hash = self::hash($code);
        $found = false;
        $left = [];
        foreach ($hashes as $one) {
            hash_equals($one, $hash) ? $found = true : $left[] = $one;
        }

        return $found ? $left : null;
    }
}
