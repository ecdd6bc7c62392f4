<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

use App\Rehearsals\Probe;
use Facebook\WebDriver\Exception\WebDriverException;
use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use Pellix\Core\Rehearsal\Screen;

/** One page of one visitor's: what is done there, and what is seen of it. */
final class Tab
{
    /** The world that our own scripts run in: they see the page's elements, and none of its scripts. */
    private const WORLD = 'pellix-rehearsal';

    /** Precedes what a page asks a person for, in the console. */
    public const ASKED = 'pellix-rehearsal asks ';

    /** Nobody is sent from page to page more often before anything is done there. */
    private const MOST_ARRIVALS = 12;

    /** A server that takes longer to send anything of a page is waited for no more. */
    private const ANSWER_SECONDS = 15.0;

    public readonly Watch $watch;

    /** Pages that were come to since the last one was asked for. */
    private int $arrivals = 0;

    private readonly Gate $gate;

    public readonly Film $film;

    /** @var \Closure(array<string, mixed>): void|null told of every style sheet */
    private ?\Closure $sheets = null;

    private ?int $world = null;

    private ?int $page = null;

    public bool $hangs = false;

    public function __construct(
        private readonly Chromium $chromium,
        public readonly string $session,
        public readonly string $target,
        public readonly ?string $context,
        public readonly Screen $screen,
    ) {
        $this->watch = new Watch();
        $this->gate = new Gate($chromium->devtools);
        $this->film = new Film($this);
    }

    public function begin(): void
    {
        foreach (['Page', 'Runtime', 'Log', 'DOM', 'Inspector'] as $domain) {
            $this->execute("{$domain}.enable");
        }
        $this->execute('Network.enable', ['maxPostDataSize' => 70_000]);
        $this->execute('Page.setLifecycleEventsEnabled', ['enabled' => true]);
        $this->execute('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true]);
        $this->execute('Emulation.setDeviceMetricsOverride', ['width' => $this->screen->width(), 'height' => $this->screen->height(), 'deviceScaleFactor' => 1, 'mobile' => $this->screen->isMobile()]);
        $this->execute('Emulation.setFocusEmulationEnabled', ['enabled' => true]);
        $this->sayOfItself(null, null);
        $this->screen->isMobile() && $this->execute('Emulation.setTouchEmulationEnabled', ['enabled' => true]);
        $this->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => Probe::text('asked')]);
    }

    /** What it says of itself to pages and servers. @param string|null $agent null for what Chromium says on this screen */
    public function sayOfItself(?string $agent, ?string $language): void
    {
        $own = str_replace('HeadlessChrome', 'Chrome', (string) $this->execute('Runtime.evaluate', ['expression' => 'navigator.userAgent', 'returnByValue' => true])['result']['value']);
        $this->execute('Emulation.setUserAgentOverride', ['userAgent' => $agent ?? $this->screen->agent($own), 'acceptLanguage' => $language ?? 'en-GB,en', 'platform' => $this->screen->isMobile() ? 'Linux armv81' : 'Linux x86_64']);
    }

    /**
     * @param string               $session this page's, or that of a frame, a worker or a window of its own
     * @param array<string, mixed> $p       parameters
     */
    public function hear(string $session, string $name, array $p): void
    {
        match ($name) {
            'Fetch.requestPaused' => $this->gate->stopped($session, $p),
            'Runtime.executionContextCreated' => $this->created((array) $p['context']),
            'Page.javascriptDialogOpening' => $this->dialog($p),
            'Page.screencastFrame' => $this->film->take($p),
            'Page.frameNavigated' => isset($p['frame']['parentId']) ? null : $this->arrived((array) $p['frame']),
            'CSS.styleSheetAdded' => $this->sheets === null ? null : ($this->sheets)((array) $p['header']),
            default => $this->watch->hear($name, $p),
        };
        if ($this->watch->bytes > Watch::MOST_BYTES && $this->watch->noted('large') === null) {
            $this->watch->note('large', (string) $this->watch->bytes);
            $this->send('Page.stopLoading');
            $this->send('Network.setBlockedURLs', ['urls' => ['*']]);
        }
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, mixed>
     */
    public function execute(string $command, array $parameters = [], float $seconds = 10.0): array
    {
        return $this->chromium->devtools->execute($command, $parameters, $this->session, $seconds);
    }

    /** @param array<string, mixed> $parameters */
    public function send(string $command, array $parameters = []): void
    {
        $this->chromium->devtools->send($command, $parameters, $this->session, false);
    }

    /** Runs in every document of this page from now on, before anything of its own, and unseen by it. */
    public function prepare(string $script): void
    {
        $this->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => $script, 'worldName' => self::WORLD]);
    }

    /**
     * Stops requests before they are made, or before their answers are given to the page, besides those that are stopped already.
     *
     * @param list<array<string, string>> $patterns as Fetch.enable takes them
     * @param \Closure(array<string, mixed>): (array{string, array<string, mixed>}|null) $answer what is done with one; null where it is none of these
     */
    public function guard(array $patterns, \Closure $answer): void
    {
        $this->execute('Fetch.enable', ['patterns' => $this->gate->add($patterns, $answer)]);
    }

    /** A frame, a worker or a window of this page's: what it asks for is this page's, before it has asked for anything. */
    public function takeIn(string $session): void
    {
        $this->chromium->devtools->send('Network.enable', ['maxPostDataSize' => 70_000], $session, false);
        $this->gate->takeIn($session);
    }

    /** @param \Closure(array<string, mixed>): void $listener told what the browser says of each style sheet */
    public function onStyleSheet(\Closure $listener): void
    {
        $this->sheets = $listener;
    }

    /** Goes to an address, and does not wait. @throws CommandFailed */
    public function go(string $url, ?string $referrer = null): void
    {
        $this->arrivals = 0;
        try {
            $answer = $this->execute('Page.navigate', ['url' => $url, ...($referrer === null ? [] : ['referrer' => $referrer])], self::ANSWER_SECONDS);
        } catch (CommandFailed $e) {
            if (! $e->timedOut) {
                throw $e;
            }
            $this->watch->note('unreachable', "{$url}: no answer within ".self::ANSWER_SECONDS.' s');
            $this->send('Page.stopLoading');

            return;
        }
        if (($answer['errorText'] ?? '') !== '' && ! ($answer['isDownload'] ?? false)) {
            $this->watch->note(str_contains((string) $answer['errorText'], 'CERT') ? 'certificate' : 'unreachable', "{$url}: {$answer['errorText']}");
        }
    }

    /** Waits until a page is loaded and nothing is under way any more; false where it hangs. */
    public function settle(float $seconds = 10.0, float $quiet = 0.15): bool
    {
        $until = microtime(true) + $seconds;
        $since = null;
        do {
            $this->chromium->devtools->attend(0.02);
            if ($this->hangs || $this->watch->noted('crash') !== null) {
                return false;
            }
            $complete = $this->evaluate('document.readyState === "complete"') === true;
            if ($complete && $this->watch->open() === 0) {
                $since ??= microtime(true);
                if (microtime(true) - $since >= $quiet) {
                    return true;
                }
            } else {
                $since = null;
            }
        } while (microtime(true) < $until);

        return false;
    }

    /**
     * The value of an expression in the page, null where it has none now.
     *
     * @param bool $own in our own world, beside the page's scripts
     */
    public function evaluate(string $expression, bool $own = false, float $seconds = 5.0): mixed
    {
        try {
            $answer = $this->execute('Runtime.evaluate', ['expression' => $expression, 'returnByValue' => true, 'awaitPromise' => true, ...$this->in($own)], $seconds);
        } catch (CommandFailed $e) {
            $this->hangs = $this->hangs || $e->timedOut;

            return null;
        }

        return isset($answer['exceptionDetails']) ? null : ($answer['result']['value'] ?? null);
    }

    /** An element, by what finds it in our own world; null where there is none. @return string|null its number in the browser */
    public function handle(string $expression): ?string
    {
        $answer = $this->execute('Runtime.evaluate', ['expression' => $expression, ...$this->in(true)]);

        return isset($answer['exceptionDetails']) || ($answer['result']['subtype'] ?? '') !== 'node' ? null : (string) $answer['result']['objectId'];
    }

    /** What a function comes to that is called on an element. @param string $element its number in the browser */
    public function call(string $element, string $function, mixed ...$with): mixed
    {
        $answer = $this->execute('Runtime.callFunctionOn', ['functionDeclaration' => $function, 'objectId' => $element, 'arguments' => array_map(static fn (mixed $value): array => ['value' => $value], $with), 'returnByValue' => true]);

        return isset($answer['exceptionDetails']) ? null : ($answer['result']['value'] ?? null);
    }

    /** Waits until the expression holds. */
    public function await(string $expression, float $seconds, bool $own = false): bool
    {
        $until = microtime(true) + $seconds;
        do {
            if ($this->evaluate($expression, $own) === true) {
                return true;
            }
            $this->chromium->devtools->attend(0.03);
        } while (microtime(true) < $until && ! $this->hangs);

        return false;
    }

    public function attend(float $seconds): void
    {
        $this->chromium->devtools->attend($seconds);
    }

    /** Scrolls to the end and back, and has the page laid out anew in another width and in its own. */
    public function stir(): void
    {
        $this->evaluate('window.scrollTo(0, document.documentElement.scrollHeight)', true);
        $this->attend(0.15);
        $this->evaluate('window.scrollTo(0, 0)', true);
        foreach ([$this->screen->width() - 40, $this->screen->width()] as $width) {
            $this->execute('Emulation.setDeviceMetricsOverride', ['width' => $width, 'height' => $this->screen->height(), 'deviceScaleFactor' => 1, 'mobile' => $this->screen->isMobile()]);
            $this->attend(0.1);
        }
    }

    /** What a visitor's hands do is done by WebDriver. @throws WebDriverException */
    public function element(string $selector): RemoteWebElement
    {
        $this->chromium->driver->switchTo()->window($this->target);

        return $this->chromium->driver->findElement(WebDriverBy::cssSelector($selector));
    }

    public function driver(): \Facebook\WebDriver\Remote\RemoteWebDriver
    {
        $this->chromium->driver->switchTo()->window($this->target);

        return $this->chromium->driver;
    }

    /** Another page of the same visitor's. */
    public function another(): self
    {
        return $this->chromium->tab($this->context, $this->screen);
    }

    /** Closes this page; others of its visitor's stay. */
    public function close(): void
    {
        $this->fallSilent();
        $this->chromium->close($this);
    }

    public function leave(): void
    {
        $this->fallSilent();
        $this->chromium->leave($this);
    }

    private function fallSilent(): void
    {
        try {
            // Nothing that a page sends when it is left may come after nobody marks it any more: everything that is of interest is there.
            if ($this->gate->isThere() && ! $this->hangs) {
                $this->evaluate(Probe::text('silent'), false, 2.0);
                $this->execute('Network.setBlockedURLs', ['urls' => ['*']], 2.0);
                $this->execute('Page.navigate', ['url' => 'about:blank'], 2.0);
            }
        } catch (CommandFailed) {
            // It is closed all the same.
        }
    }

    public function picture(string $format = 'png'): ?string
    {
        try {
            return (string) base64_decode((string) ($this->execute('Page.captureScreenshot', ['format' => $format, ...($format === 'jpeg' ? ['quality' => 60] : [])])['data'] ?? ''), true);
        } catch (CommandFailed) {
            return null;
        }
    }

    /** Asks for what was sent and not told at once, such as a file that a script has made. */
    public function askForBodies(): void
    {
        foreach ($this->watch->requests as $id => $request) {
            if ($request['body'] === '' && ! $this->hangs) {
                try {
                    $this->watch->requests[$id]['body'] = mb_strcut((string) ($this->execute('Network.getRequestPostData', ['requestId' => $request['id']], 2.0)['postData'] ?? ' '), 0, Watch::LONGEST_BODY, '8bit') ?: ' ';
                } catch (CommandFailed) {
                    $this->watch->requests[$id]['body'] = ' ';
                }
            }
        }
    }

    /** @return array<string, array<string, mixed>> the requests of this page; of its documents, with what they hold */
    public function withContent(): array
    {
        $all = $this->watch->requests;
        foreach ($all as $id => $request) {
            if ($request['type'] === 'Document' && ($request['status'] ?? 0) < 300 && ! $this->hangs) {
                try {
                    $body = $this->execute('Network.getResponseBody', ['requestId' => $request['id']], 3.0);
                    $all[$id]['content'] = ($body['base64Encoded'] ?? false) ? (string) base64_decode((string) $body['body'], true) : (string) $body['body'];
                } catch (CommandFailed) {
                    // A document that was left is not kept by the browser.
                }
            }
        }

        return $all;
    }

    /** The text of a file, as the browser gets it from wherever it may; null where it does not. */
    public function resource(string $url): ?string
    {
        try {
            $found = (array) $this->execute('Network.loadNetworkResource', ['frameId' => $this->target, 'url' => $url, 'options' => ['disableCache' => true, 'includeCredentials' => false]])['resource'];
            if (! ($found['success'] ?? false) || ! isset($found['stream'])) {
                return null;
            }
            $text = '';
            do {
                $part = $this->execute('IO.read', ['handle' => $found['stream']]);
                $text .= ($part['base64Encoded'] ?? false) ? (string) base64_decode((string) $part['data'], true) : (string) $part['data'];
            } while (! ($part['eof'] ?? true) && strlen($text) < Watch::MOST_BYTES);
            $this->send('IO.close', ['handle' => $found['stream']]);

            return $text;
        } catch (CommandFailed) {
            return null;
        }
    }

    /** How long the main thread of the page has worked, in seconds; after `Performance.enable`. */
    public function busySeconds(): float
    {
        return (float) (array_column((array) $this->execute('Performance.getMetrics')['metrics'], 'value', 'name')['TaskDuration'] ?? 0);
    }

    /** @return array<string, array<string, mixed>> name => cookie, as the browser keeps it */
    public function cookies(string $url): array
    {
        return array_column((array) $this->execute('Network.getCookies', ['urls' => [$url]])['cookies'], null, 'name');
    }

    public function setCookie(string $name, string $value, string $url, ?string $domain = null, int $seconds = 86_400): void
    {
        $this->execute('Network.setCookie', ['name' => $name, 'value' => $value, 'url' => $url, 'path' => '/', 'sameSite' => 'Lax', 'expires' => time() + $seconds, ...($domain === null ? [] : ['domain' => $domain])]);
    }

    public function address(): string
    {
        return (string) $this->evaluate('location.href');
    }

    /** @return array<string, int> */
    private function in(bool $own): array
    {
        $context = $own ? $this->world : $this->page;

        return $context === null ? [] : ['contextId' => $context];
    }

    /** @param array<string, mixed> $context */
    private function created(array $context): void
    {
        if (($context['auxData']['frameId'] ?? '') !== $this->target) {
            return;
        }
        if (($context['name'] ?? '') === self::WORLD) {
            $this->world = (int) $context['id'];
        } elseif ($context['auxData']['isDefault'] ?? false) {
            $this->page = (int) $context['id'];
        }
    }

    /** @param array<string, mixed> $frame */
    private function arrived(array $frame): void
    {
        $this->watch->begun((string) $frame['loaderId']);
        if (isset($frame['unreachableUrl'])) {
            $this->watch->unreachable((string) $frame['unreachableUrl']);
        }
        if (++$this->arrivals > self::MOST_ARRIVALS) {
            $this->watch->note('loops', implode(', ', array_slice($this->watch->addresses, -3)));
            $this->arrivals = 0;
            $this->send('Page.stopLoading');
            $this->send('Network.setBlockedURLs', ['urls' => ['*']]);
        }
        if (count($this->watch->addresses) < 100) {
            $this->watch->addresses[] = (string) $frame['url'].($frame['urlFragment'] ?? '');
        }
    }

    /** @param array<string, mixed> $p */
    private function dialog(array $p): void
    {
        $kind = (string) $p['type'];
        $this->watch->note($kind === 'beforeunload' ? 'beforeunload' : 'dialog', (string) ($p['message'] ?? ''));
        // Whoever is asked whether to leave leaves; everything else is closed.
        $this->send('Page.handleJavaScriptDialog', ['accept' => $kind === 'beforeunload']);
    }
}
