<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Html\Node;
use Pellix\Core\Wiring\Html\Script;
use Pellix\Core\Wiring\Html\ScriptType;
use Pellix\Core\Wiring\Snippet;

/** One place on a page where a snippet stands, in whatever state it is: a script that loads the site's file, or was meant to. */
final readonly class SnippetCopy
{
    private const KEY = '/plx_[a-z0-9]{16}(?![a-z0-9])/';

    /** What only the loader has that Pellix gives out. */
    private const QUEUE = '/pellix\s*\.\s*waiting/';

    /** The type of data that scripts hold, and that nothing makes code of later. */
    private const DATA = '~json|importmap|speculationrules|html|template|shader|xml|css~i';

    /**
     * @param string|null $key        of the site whose file it loads
     * @param string      $file       the address that it loads
     * @param bool        $isFile     whether it is the file itself, not the loader
     * @param bool        $isGated    whether it runs only once something has changed it
     * @param string|null $alteration what keeps it from doing what it should
     * @param string|null $difference what is not as Pellix gave it out, and changes nothing
     */
    private function __construct(
        public Node $node,
        public Script $script,
        public ?string $key,
        public string $file,
        public bool $isFile,
        public bool $isGated,
        public ?string $alteration,
        public ?string $difference,
    ) {
    }

    /** The copy that a script element is; null for any other script. */
    public static function of(Node $node): ?self
    {
        $script = new Script($node);
        $source = $script->source ?? self::placeholder($node);
        if ($source !== null && $node->attribute('data-pellix') === null) {
            return preg_match(Snippet::FILE, $source, $m) === 1
                ? new self($node, $script, $m[1], trim($source), true, $script->source === null || $script->type === ScriptType::Data, self::spoiled(trim($source)), null)
                : null;
        }
        $marked = $node->attribute('data-pellix');
        if ($marked === null && ! self::wouldLoad($node->text, $script->type, $node->attribute('type') ?? '')) {
            return null;
        }

        return self::loader($node, $script, $marked, $source);
    }

    /** Whether a text holds a snippet: in a comment, in raw text, or spelled out as text. Its address alone is none. */
    public static function isMentionedIn(string $text): bool
    {
        return preg_match('/data-pellix\s*=(3D)?\s*(["\'“”]|&quot;|&#34;|&ldquo;)?\s*plx_/i', $text) === 1
            || (preg_match(Snippet::FILE, $text) === 1 && preg_match('/(<|&lt;|&#60;)script|createElement/i', $text) === 1);
    }

    private static function loader(Node $node, Script $script, ?string $marked, ?string $source): self
    {
        $text = $node->text;
        preg_match('~((?:https?:)?(?://|\\\\/\\\\/)[^"\'\s<>“”]+)'.substr(Snippet::FILE, 1), $text, $m);
        $loaded = $m[2] ?? (preg_match(Snippet::FILE, $source ?? $text, $n) === 1 ? $n[1] : null);
        preg_match(self::KEY, $marked ?? '', $k);
        $key = $k[0] ?? $loaded;
        $file = $source !== null && preg_match(Snippet::FILE, $source) === 1 ? trim($source) : str_replace('\\/', '/', $m[1] ?? '')."/s/{$loaded}.js";
        $isGated = $script->type === ScriptType::Data || self::placeholder($node) !== null;
        if ($source !== null) {
            // With an address, what a script holds itself is not run.
            $alteration = preg_match(Snippet::FILE, $source) === 1 ? self::spoiled(trim($source)) : "It loads {$source} instead of what it holds.";

            return new self($node, $script, $key, $file, true, $isGated, $alteration, null);
        }
        [$alteration, $difference] = self::compared($text, $key ?? '', $loaded);
        if ($alteration !== null && $marked === null && preg_match(self::QUEUE, $text) !== 1 && CodeTokens::areWhole(CodeTokens::of($text) ?? [])) {
            [$alteration, $difference] = [null, 'Another script loads its file: what the page calls before that has come is lost.'];
        }
        if (trim($marked ?? '') !== '' && trim((string) $marked) !== $key) {
            $alteration ??= 'Its key is no longer readable: '.self::why((string) $marked).' it reads '.mb_strcut((string) $marked, 0, 60, 'UTF-8').'.';
        }
        if ($marked !== null && $loaded !== null && $key !== $loaded && $alteration === null) {
            $alteration = "It is marked with the key {$key} but loads {$loaded}.";
        }
        $difference ??= $marked === null ? 'Its attribute data-pellix is missing.' : null;

        return new self($node, $script, $key, $file, false, $isGated, $alteration, $alteration === null ? $difference : null);
    }

    /** The address that a script keeps for later, as tools for consent write it. */
    private static function placeholder(Node $node): ?string
    {
        foreach ($node->attributes as $name => $value) {
            if ($node->attribute('src') === null && preg_match('/\Adata-(.*-)?src\z/', (string) $name) === 1 && preg_match(Snippet::FILE, $value) === 1) {
                return $value;
            }
        }

        return null;
    }

    /** Whether a script that nobody marked loads the file, or was meant to; one that only names its address does not. */
    private static function wouldLoad(string $text, ScriptType $type, string $typeName): bool
    {
        if (preg_match(Snippet::FILE, $text) !== 1 || ($type === ScriptType::Data && preg_match(self::DATA, $typeName) === 1)) {
            return false;
        }
        $tokens = CodeTokens::of($text) ?? [];
        $names = array_flip(array_column(array_filter($tokens, static fn (array $token): bool => $token[0] !== 'sign'), 1));
        if (isset($names['pellix'], $names['waiting'])) {
            return true;
        }
        foreach ($tokens as $i => $token) {
            if ($token[0] !== 'string' || preg_match(Snippet::FILE, $token[1]) !== 1) {
                continue;
            }
            $before = array_column(array_slice($tokens, max(0, $i - 3), min(3, $i)), 1);
            $isSource = array_slice($before, -2) === ['src', '='] || array_slice($before, -3) === ['(', 'src', ','] || array_slice($before, -2) === ['import', '('];
            $isWritten = preg_match('/<script/i', $token[1]) === 1 && in_array($before[1] ?? '', ['write', 'writeln'], true);
            // Kept in a variable, which a script element is then made of.
            $isKept = end($before) === '=' && isset($names['createElement'], $names['src']);
            if ($isSource || $isWritten || $isKept) {
                return true;
            }
        }

        return false;
    }

    /** @return array{string|null, string|null} what keeps the loader from working; else what is different */
    private static function compared(string $text, string $key, ?string $loaded): array
    {
        $given = (string) preg_replace('~\A<script[^>]*>|</script>\z~', '', Snippet::loader($key, 'https://pellix.invalid'));
        $same = SameCode::compare($given, $text, ['script'], static fn (string $a, string $b): bool => preg_match(Snippet::FILE, $a) === 1
            && preg_match('~\A(?:(?:https?:)?//[^/\s"\'<>]+|)/(?:[^\s"\'<>]*/)?s/'.preg_quote($loaded ?? $key, '~').'\.js(?:[?#]\S*)?\z~', $b) === 1);

        return match (true) {
            $same === SameCode::SAME => [null, null],
            $same === SameCode::LIKE => [null, 'It has other names in it, or other code around it, and still does the same.'],
            trim($text) === '' => ['It is empty.', null],
            preg_match('/[\x{2018}\x{2019}\x{201C}\x{201D}\x{00AB}\x{00BB}\x{201A}\x{201E}]/u', $text) === 1 => ['It has typographic quotes, which no browser reads as quotes.', null],
            preg_match('/&(lt|gt|quot|amp|apos|#\d+|#x[0-9a-f]+);/i', $text) === 1 => ['Its characters are escaped (&lt; and the like) and no longer code.', null],
            preg_match('/=3D|=\n/', $text) === 1 => ['It is quoted-printable, as mail is sent (=3D for =), and no longer code.', null],
            SameCode::isCutOff($given, $text) => ['It is cut off.', null],
            default => ['It reads “'.self::firstDifference($given, $text).'” where Pellix wrote something else.', null],
        };
    }

    /** What makes an address useless, where something does. */
    private static function spoiled(string $address): ?string
    {
        return preg_match('~\A(?:(?:https?:)?//[a-z0-9\[]|/(?!/)|\.)~i', $address) === 1 ? null : 'Its address is no longer one: '.self::why($address).' it reads '.mb_strcut($address, 0, 80, 'UTF-8').'.';
    }

    private static function why(string $text): string
    {
        return match (true) {
            preg_match('/3D/', $text) === 1 => 'quoted-printable, as mail is sent;',
            preg_match('/[\x{2018}\x{2019}\x{201C}\x{201D}]/u', $text) === 1 => 'with typographic quotes around it;',
            default => '',
        };
    }

    private static function firstDifference(string $given, string $found): string
    {
        $squeeze = static fn (string $text): string => trim((string) preg_replace('/\s+/u', ' ', $text));
        $found = $squeeze($found);
        $same = strspn($squeeze($given) ^ $found, "\0");

        return mb_strcut($found, max(0, $same - 20), 60, 'UTF-8');
    }
}
