<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Findings\Finding;

use Pellix\Core\Wiring\Findings\FindingCode;

use Pellix\Core\Wiring\Findings\Severity;

use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Html\Node;
use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Html\Script;
use Pellix\Core\Wiring\Html\XhtmlReader;
use Pellix\Core\Wiring\Inventory\Links;
use Pellix\Core\Wiring\Snippet;

/** Inspects one page: whether the snippet stands on it, once, in its place and unharmed, and the tags that must be there. */
final class Inspector
{
    private const FIX = 'Copy the snippet from Wiring again and paste it, as it is, into the head, before other scripts.';

    /** Links of a page whose address nobody told start from here: their paths are still right. */
    private const SOMEWHERE = 'https://page.invalid/';

    /** @var list<Draft> */
    private array $drafts = [];

    /** @var list<SnippetCopy> copies that a browser takes as scripts */
    private array $copies = [];

    /** @var list<array{FindingCode, string, Node}> code, message, place: copies that no browser runs */
    private array $dead = [];

    /** @var list<GuardCopy> */
    private array $guards = [];

    /** @var list<array{ContentSecurityPolicy, int}> policies in force, with the offset from which on */
    private array $policies = [];

    /** The first script that everything after it waits for, and the first style sheet that scripts after it wait for. */
    private ?Node $blockingScript = null;

    private ?Node $blockingSheet = null;

    /** @var array<string, list<Node>> tag key => where it stands */
    private array $tags = [];

    private bool $isHtml = false;

    private ?Node $previous = null;

    private function __construct(private readonly string $html, private readonly Expectation $expected, private readonly bool $isXml)
    {
        foreach ($expected->policies as $text) {
            foreach (ContentSecurityPolicy::parse($text, $expected->url) as $policy) {
                $this->policies[] = [$policy, 0];
            }
        }
    }

    /**
     * @param string $html  UTF-8, as `Html\Encoding::decode()` gives it
     * @param bool   $isXml whether browsers read it as XML: by the type that a server sends it with, or the name of a file
     */
    public static function inspect(string $html, Expectation $expected, bool $isXml = false): Report
    {
        return (new self($html, $expected, $isXml))->report();
    }

    /** A page that was kept in a file; its name tells whether it is XML. */
    public static function inspectFile(string $name, string $bytes, Expectation $expected): Report
    {
        $isXml = preg_match('/\.xht(ml)?\z/i', $name) === 1;

        return self::inspect(Encoding::decode($bytes, null, $isXml), $expected, $isXml);
    }

    /** A page together with how it came. */
    public static function inspectDelivery(Delivery $delivery, Expectation $expected): Report
    {
        $findings = $delivery->findings();
        $page = in_array('blocker', array_column($findings, 'severity'), true)
            ? []
            : self::inspect(Encoding::decode($delivery->body, $delivery->charset(), $delivery->isXml()), $expected->with($delivery), $delivery->isXml())->findings;

        return new Report([...$findings, ...$page]);
    }

    private function report(): Report
    {
        $nodes = $this->isXml ? XhtmlReader::nodes($this->html) : PageReader::nodes($this->html);
        foreach ($nodes as $node) {
            $this->take($node);
        }
        /** @var array{int, string}|null $mistake */
        $mistake = $nodes->getReturn();
        if ($mistake !== null) {
            $this->draft(FindingCode::PageNotHtml, $mistake[0], "The page is XHTML that is not well-formed: {$mistake[1]}. Browsers show an error in its place.", 'Mend the page, or have the server send it as text/html.');
        }
        if ($mistake !== null && $this->copies === [] && $this->dead === []) {
            // What would come after the mistake nobody knows.
        } elseif (! $this->isHtml) {
            $this->draft(FindingCode::PageNotHtml, 0, 'This is no HTML page: it has no element.', 'Check the address: it may answer with a file, with data, or with an error in plain text.');
        } else {
            usort($this->copies, static fn (SnippetCopy $a, SnippetCopy $b): int => $a->node->offset <=> $b->node->offset);
            $this->judgeDead();
            $this->judgeCopies();
            $this->judgeGuards();
            $this->judgeTags();
            $this->judgeLinks();
        }

        return new Report(array_map(fn (Finding $finding): Finding => $finding->withPaste($this->paste($finding->code)), Places::findings($this->html, $this->drafts)));
    }

    /** What to put onto the page, where that mends a finding. */
    private function paste(string $code): ?string
    {
        $origin = $this->expected->origin;

        return match ($code) {
            'snippet.missing', 'snippet.wrong-key', 'snippet.earlier-key', 'snippet.altered', 'snippet.commented-out', 'snippet.inside-noscript', 'snippet.inside-template',
            'snippet.never-runs', 'snippet.in-body', 'snippet.after-blocking', 'snippet.deferred' => $origin === null ? null : Snippet::loader($this->expected->key, $origin),
            'guard.missing', 'guard.altered', 'guard.inside-template' => Guard::text(),
            default => null,
        };
    }

    private function take(Node $node): void
    {
        $previous = $this->previous;
        $this->previous = $node;
        if ($node->name === '#text' && $previous?->name === 'script' && $previous->inside !== null) {
            // The text of that script, where a browser takes none for it.
            return;
        }
        $this->isHtml = $this->isHtml || $node->name[0] !== '#';
        match ($node->name) {
            'script' => $this->script($node),
            '#comment' => $this->mentioned($node, FindingCode::SnippetCommentedOut, 'The snippet stands in a comment, so no browser runs it.'),
            'noscript' => $this->mentioned($node, FindingCode::SnippetInsideNoscript, 'The snippet stands inside of noscript, which browsers with scripts skip.'),
            '#text', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes' => $this->mentioned($node, FindingCode::SnippetAltered, 'The snippet stands on the page as text that people read, not as code.'),
            'style' => $this->style($node),
            'meta' => $this->meta($node),
            'link' => $this->link($node),
            default => null,
        };
        foreach ($this->expected->tags as $tag) {
            if ($tag->is($node)) {
                $this->tags[$tag->key][] = $node;
            }
        }
    }

    private function script(Node $node): void
    {
        $guard = GuardCopy::of($node);
        if ($guard !== null) {
            $this->guards[] = $guard;

            return;
        }
        $copy = SnippetCopy::of($node);
        if ($copy === null) {
            if ($node->place === 'head' && $node->inside === null && (new Script($node))->isBlocking()) {
                $this->blockingScript ??= $node;
            }

            return;
        }
        $why = $copy->script->neverRuns();
        if ($why === null) {
            $this->copies[] = $copy;
        } else {
            $this->dead[] = [match (true) {
                $node->inside === 'template' => FindingCode::SnippetInsideTemplate,
                $node->inside === null && ! $node->closed => FindingCode::SnippetAltered,
                default => FindingCode::SnippetNeverRuns,
            }, "The snippet never runs. {$why}", $node];
        }
    }

    private function style(Node $node): void
    {
        if ($node->place === 'head' && $node->inside === null && Sheets::waitsFor($node)) {
            $this->blockingSheet ??= $node;
        }
        $this->mentioned($node, FindingCode::SnippetAltered, 'The snippet stands within a style sheet, not as code.');
    }

    private function link(Node $node): void
    {
        if ($node->place === 'head' && $node->inside === null && Sheets::waitsFor($node)) {
            $this->blockingSheet ??= $node;
        }
    }

    private function meta(Node $node): void
    {
        $equivalent = strtolower($node->attribute('http-equiv') ?? '');
        // Only a policy in the head counts (WHATWG HTML, 4.2.5.3), and only for what comes after it.
        if ($equivalent === 'content-security-policy' && $node->place === 'head' && $node->inside === null) {
            foreach (ContentSecurityPolicy::parse($node->attribute('content') ?? '', $this->expected->url) as $policy) {
                $this->policies[] = [$policy->asMeta(), $node->offset];
            }
        }
        if ($equivalent === 'refresh' && $node->inside === null) {
            $this->add(FindingCode::PageMetaRefresh, $node, 'The page sends visitors on by itself, perhaps before anything has been counted.', 'Redirect on the server, or inspect the page that people end up on.');
        }
    }

    private function mentioned(Node $node, FindingCode $code, string $message): void
    {
        if (SnippetCopy::isMentionedIn($node->text)) {
            $this->dead[] = match ($node->inside) {
                'template' => [FindingCode::SnippetInsideTemplate, $message, $node],
                'frameset' => [FindingCode::SnippetNeverRuns, 'A frameset has taken the place of the body, and no script of that page runs.', $node],
                default => [$code, $message, $node],
            };
        }
    }

    private function judgeDead(): void
    {
        foreach ($this->dead as [$code, $message, $node]) {
            // Beside a copy that runs, a dead one is only litter.
            $this->copies === []
                ? $this->add($code, $node, $message, self::FIX)
                : $this->add($code, $node, $message, 'Remove this copy: another one runs.', severity: Severity::Note);
        }
    }

    private function judgeCopies(): void
    {
        if ($this->copies === []) {
            if ($this->dead === [] && $this->expected->snippet) {
                $this->draft(FindingCode::SnippetMissing, $this->offsetOfHead(), 'The page has no snippet, so nothing on it is counted or changed.', self::FIX);
            }

            return;
        }
        $own = 0;
        foreach ($this->copies as $copy) {
            if ($copy->alteration === null && $copy->key !== null && ! $this->expected->isOwn($copy->key)) {
                $this->add(FindingCode::SnippetWrongKey, $copy->node, "The snippet has the key {$copy->key}, which is another site's; this site's is {$this->expected->key}.", self::FIX);
                continue;
            }
            if (++$own > 1) {
                $this->add(FindingCode::SnippetDuplicate, $copy->node, 'The snippet stands on the page more than once. It runs once, but the copies may come to differ.', 'Keep the first copy and remove this one.');
                continue;
            }
            if ($copy->key !== null && $copy->key !== $this->expected->key && $this->expected->isOwn($copy->key)) {
                $this->add(FindingCode::SnippetEarlierKey, $copy->node, "The snippet has the key {$copy->key}, which was replaced by {$this->expected->key}. It works until the earlier key ends.", self::FIX);
            }
            $this->judgeCopy($copy);
        }
    }

    private function judgeCopy(SnippetCopy $copy): void
    {
        $node = $copy->node;
        if ($copy->alteration !== null) {
            $this->add(FindingCode::SnippetAltered, $node, "The snippet was altered on its way. {$copy->alteration}", self::FIX);
        } elseif ($copy->difference !== null) {
            $this->add(FindingCode::SnippetAltered, $node, "The snippet is not as Pellix gave it out. {$copy->difference}", 'Nothing needs to be done.', severity: Severity::Note);
        }
        if ($copy->isGated) {
            $this->add(FindingCode::SnippetConsentGated, $node, 'The type of the script, or an address that is kept for later, keeps it from running until something changes it, such as a consent tool.', 'If consent is meant to come first, check that the tool lets the snippet go; if not, remove the attribute.');
        }
        if ($copy->script->isDeferred()) {
            $this->add(FindingCode::SnippetDeferred, $node, 'The snippet runs only after the whole page was read: changes are seen happening.', self::FIX);
        }
        // What is loaded beside the page does not wait for style sheets.
        $blocking = array_filter([$this->blockingScript, $copy->isFile && $copy->script->isAsync() ? null : $this->blockingSheet], static fn (?Node $one): bool => $one !== null && $one->offset < $node->offset);
        if ($node->place === 'body') {
            $this->add(FindingCode::SnippetInBody, $node, 'The snippet stands in the body: what is above it is shown before it can be changed.', 'Move it into the head. If it already is there, something before it ends the head early, such as a div or a word.');
        } elseif ($blocking !== []) {
            $this->add(FindingCode::SnippetAfterBlocking, $node, 'The snippet waits for a script or style sheet that stands before it.', 'Move it before that, or give that script "async" or "defer".');
        }
        $this->judgePolicies($copy);
    }

    private function judgePolicies(SnippetCopy $copy): void
    {
        $node = $copy->node;
        $beacons = (string) preg_replace('~/s/plx_.*\z~s', '', $copy->file);
        foreach ($this->policies as [$policy, $from]) {
            // What a policy forbids that comes later is what is done after it: the beacons.
            $blocks = [
                ...($from > $node->offset ? [] : ($copy->isFile
                    ? $policy->againstFile($copy->file, $node->attributes)
                    : [...$policy->againstInline($node->text, $node->attributes), ...$policy->againstLoaded($copy->file)])),
                ...$policy->againstBeacons("{$beacons}/c"),
            ];
            if ($blocks !== []) {
                $directives = implode(' and ', array_unique(array_column($blocks, 0)));
                $sources = implode('; ', array_unique(array_map(static fn (array $block): string => "{$block[1]} to {$block[0]}", $blocks)));
                $this->add(FindingCode::SnippetCspBlocked, $node, "The page's Content-Security-Policy ({$directives}) keeps the snippet from working.", "Add {$sources}. For the inline part a nonce will do as well, on the script and in the policy.");
            }
        }
    }

    private function judgeGuards(): void
    {
        $first = $this->copies[0]->node->offset ?? null;
        foreach ($this->guards as $guard) {
            $node = $guard->node;
            if ($node->inside === 'template') {
                $this->add(FindingCode::GuardInsideTemplate, $node, 'The flicker guard stands inside of a template, whose content is inert.', 'Move it right before the snippet.');
                continue;
            }
            if ($guard->damage !== null) {
                $this->add(FindingCode::GuardAltered, $node, "The flicker guard was altered on its way. {$guard->damage}", 'Copy the guard from Wiring again and paste it, as it is, right before the snippet.');
                continue;
            }
            if ($first !== null && $node->offset > $first) {
                $this->add(FindingCode::GuardAfterSnippet, $node, 'The flicker guard stands after the snippet, so it may hide a page that was shown already.', 'Move it right before the snippet.');
            } elseif ($this->expected->guard === false) {
                $this->add(FindingCode::GuardIdle, $node, 'The flicker guard hides a page that no running experiment changes.', 'Leave the guard off pages without experiments: it costs up to '.(Guard::DEFAULT_MILLISECONDS / 1000).' seconds where Pellix cannot be reached.');
            }
            foreach ($this->policies as [$policy, $from]) {
                $blocks = $from > $node->offset ? [] : [...$policy->againstInline($node->text, $node->attributes), ...($guard->style === null ? [] : $policy->againstStyle($guard->style))];
                if ($blocks !== []) {
                    $this->add(FindingCode::GuardCspBlocked, $node, 'The page\'s Content-Security-Policy ('.implode(' and ', array_unique(array_column($blocks, 0))).') keeps the flicker guard from working: visitors may see a change happen.', 'Add '.implode('; ', array_map(static fn (array $block): string => "{$block[1]} to {$block[0]}", $blocks)).', or leave the guard off.');
                }
            }
        }
        if ($this->guards === [] && $this->expected->guard === true && $this->copies !== []) {
            $this->add(FindingCode::GuardMissing, $this->copies[0]->node, 'The page has no flicker guard: visitors may see a change happen.', 'Put the guard right before the snippet.');
        }
    }

    private function judgeTags(): void
    {
        foreach ($this->expected->tags as $tag) {
            $found = $this->tags[$tag->key] ?? [];
            if ($found === []) {
                $this->draft(FindingCode::TagMissing, $this->offsetOfHead(), "The page must have the tag \"{$tag->key}\" and has not.", "Add the tag. It is known by “{$tag->contains}”.", $tag->key);
                continue;
            }
            foreach (array_slice($found, 1) as $again) {
                $this->add(FindingCode::TagDuplicate, $again, "The tag \"{$tag->key}\" stands on the page more than once and counts as often.", 'Remove this copy.', $tag->key);
            }
            $needed = $tag->after === null ? null : ($this->tags[$tag->after][0] ?? null);
            if ($needed !== null && self::turn($needed) > self::turn($found[0])) {
                $this->add(FindingCode::TagOrder, $found[0], "The tag \"{$tag->key}\" runs before \"{$tag->after}\", which it needs.", "Move it after \"{$tag->after}\".", $tag->key);
            }
        }
    }

    private function judgeLinks(): void
    {
        if ($this->expected->unlinked === []) {
            return;
        }
        foreach (Links::on($this->html, $this->expected->url ?? self::SOMEWHERE) as $address => $link) {
            foreach ($this->expected->unlinked as $rule) {
                if ($rule->matches($address)) {
                    $this->add(FindingCode::VariantLinked, $link, "A link leads to {$address}, a variant's page: whoever follows it gets in without being assigned.", 'Link to the page that the experiment starts on; only the redirect may lead to the variant.');
                    break;
                }
            }
        }
    }

    /**
     * When a tag has its turn: what is deferred comes after all that stands on the page.
     *
     * @return array{int, int}
     */
    private static function turn(Node $tag): array
    {
        return [$tag->name === 'script' && (new Script($tag))->isDeferred() ? 1 : 0, $tag->offset];
    }

    private function add(FindingCode $code, Node $node, string $message, string $fix, ?string $tag = null, ?Severity $severity = null): void
    {
        $this->draft($code, $node->offset, $message, $fix, $tag, $severity);
    }

    private function draft(FindingCode $code, int $offset, string $message, string $fix, ?string $tag = null, ?Severity $severity = null): void
    {
        $this->drafts[] = new Draft($code, $offset, $message, $fix, $tag, $severity);
    }

    /** Where the snippet belongs: after the head's start tag, or at the beginning. */
    private function offsetOfHead(): int
    {
        $at = stripos($this->html, '<head');

        return $at === false ? 0 : $at;
    }
}
