<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Exception\WebDriverException;
use Facebook\WebDriver\Remote\DesiredCapabilities;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use GuzzleHttp\Client;
use GuzzleHttp\Exception\GuzzleException;
use Pellix\Core\Rehearsal\Screen;
use Symfony\Component\Process\Process;

/**
 * A Chromium with its ChromeDriver, for one rehearsal: a profile of its own, no name but those that it was given leads anywhere,
 * and nothing is left of it afterwards. WebDriver does what a visitor's hands do; the DevTools protocol sees what WebDriver cannot.
 */
final class Chromium
{
    private const START_SECONDS = 20;

    /** No command may keep a rehearsal waiting for longer. */
    private const COMMAND_MS = 20_000;

    /** Of memory, for each process of the browser; and for what a page's scripts keep. */
    private const MOST_KILOBYTES = 4_000_000;
    private const MOST_SCRIPT_MEGABYTES = 1_000;

    /** What a page may open is bounded; more are closed at once. */
    public const MOST_WINDOWS = 5;

    /** Names the processes of rehearsals, so that those that are left over can be found. */
    public const MARK = 'PELLIX_REHEARSAL';

    /** @var array<string, Tab> session => tab */
    private array $tabs = [];

    /** @var array<string, string> target => session */
    private array $sessions = [];

    private function __construct(
        public readonly string $folder,
        /** @var array<string, string> */
        private readonly array $hosts,
        private readonly Process $process,
        public readonly RemoteWebDriver $driver,
        public readonly DevTools $devtools,
    ) {
    }

    /**
     * @param string                $folder of this browser's own, which is made, and deleted when it ends
     * @param array<string, string> $hosts  name => the address that it leads to; every other name leads nowhere
     *
     * @throws BrowserGone
     */
    public static function start(string $folder, array $hosts): self
    {
        foreach (['', '/home', '/profile'] as $part) {
            is_dir($folder.$part) || mkdir($folder.$part, 0700, true);
        }
        $port = self::freePort();
        // What a page makes the browser keep is bounded: a process that wants more ends, as if the page had crashed.
        $process = new Process(['sh', '-c', 'ulimit -d "$0"; exec chromedriver "$@"', (string) self::MOST_KILOBYTES, "--port={$port}", '--log-level=SEVERE'], $folder, [self::MARK => $folder, 'HOME' => "{$folder}/home", 'TMPDIR' => $folder], timeout: null);
        $process->start();
        try {
            self::await(static fn (): bool => str_contains($process->getOutput(), 'started successfully'), $process);
            // A driver that hangs is not waited for by anybody.
            $driver = RemoteWebDriver::create("http://127.0.0.1:{$port}", self::capabilities("{$folder}/profile", $hosts), self::START_SECONDS * 1000, self::COMMAND_MS);
            $options = $driver->getCapabilities()?->getCapability('goog:chromeOptions');
            $address = str_replace('localhost', '127.0.0.1', (string) ($options['debuggerAddress'] ?? ''));
            $version = json_decode((string) (new Client())->get("http://{$address}/json/version", ['timeout' => 5, 'headers' => ['Connection' => 'close'], 'proxy' => ''])->getBody(), true);
            $chromium = new self($folder, $hosts, $process, $driver, new DevTools(Socket::open((string) $version['webSocketDebuggerUrl'])));
            $chromium->begin();

            return $chromium;
        } catch (WebDriverException|GuzzleException|BrowserGone|CommandFailed $e) {
            Leftovers::end($folder);
            throw new BrowserGone("Chromium could not be started: {$e->getMessage()}");
        }
    }

    /** A visitor who has never been here: a page of their own, in a world of their own. */
    public function visitor(Screen $screen): Tab
    {
        $context = (string) $this->devtools->execute('Target.createBrowserContext', ['disposeOnDetach' => true])['browserContextId'];
        $this->devtools->execute('Browser.setDownloadBehavior', ['behavior' => 'deny', 'browserContextId' => $context, 'eventsEnabled' => true]);

        return $this->tab($context, $screen);
    }

    /** The page that the browser itself has begun with, and whose cookies its profile keeps. */
    public function lasting(Screen $screen): Tab
    {
        $this->devtools->execute('Browser.setDownloadBehavior', ['behavior' => 'deny', 'eventsEnabled' => true]);

        return $this->tab(null, $screen);
    }

    /** Another browser that may go to the same hosts; where its profile was kept, it goes on with it. */
    public function beside(string $name): self
    {
        return self::start("{$this->folder}/{$name}", $this->hosts);
    }

    public function close(Tab $tab): void
    {
        unset($this->tabs[$tab->session]);
        $this->devtools->send('Target.closeTarget', ['targetId' => $tab->target], '', false);
    }

    /** Another page of the same visitor's. */
    public function tab(?string $context, Screen $screen): Tab
    {
        $target = (string) $this->devtools->execute('Target.createTarget', ['url' => 'about:blank', ...($context === null ? [] : ['browserContextId' => $context])])['targetId'];
        $until = microtime(true) + 5;
        while (! isset($this->sessions[$target])) {
            if (microtime(true) > $until) {
                throw new BrowserGone('A new page was not attached to.');
            }
            $this->devtools->attend(0.01);
        }
        $tab = new Tab($this, $this->sessions[$target], $target, $context, $screen);
        $this->tabs[$tab->session] = $tab;
        $tab->begin();

        return $tab;
    }

    /** @param Tab $tab and everything of its visitor's */
    public function leave(Tab $tab): void
    {
        unset($this->tabs[$tab->session]);
        try {
            if ($tab->context === null) {
                $this->devtools->execute('Target.closeTarget', ['targetId' => $tab->target], '', 3.0);
            } else {
                $this->devtools->execute('Target.disposeBrowserContext', ['browserContextId' => $tab->context], '', 3.0);
            }
        } catch (CommandFailed) {
            // A page that hangs is ended with the browser.
        }
    }

    /** Ends everything that was started, and deletes what it has written. */
    public function end(bool $keepsProfile = false): void
    {
        $this->devtools->close();
        // Ended at once, it sends nothing any more; asked to end, it writes its profile first.
        if ($keepsProfile) {
            try {
                $this->driver->quit();
            } catch (\Throwable) {
                // Whatever does not end by itself is ended below.
            }
        }
        Leftovers::end($this->folder, $keepsProfile);
        $this->process->stop(0);
    }

    private function begin(): void
    {
        $this->devtools->listen($this->hear(...));
        $this->devtools->execute('Target.setDiscoverTargets', ['discover' => true]);
        $this->devtools->execute('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true, 'filter' => [['type' => 'page'], ['type' => 'service_worker'], ['exclude' => true]]]);
    }

    /** @param array<string, mixed> $parameters */
    private function hear(string $session, string $name, array $parameters): void
    {
        if ($name === 'Target.attachedToTarget') {
            $this->attached((array) $parameters['targetInfo'], (string) $parameters['sessionId'], $session);

            return;
        }
        if ($name === 'Browser.downloadWillBegin') {
            foreach ($this->tabs as $tab) {
                // Of a page's main frame, the number is the page's own.
                $tab->target === ($parameters['frameId'] ?? '') && $tab->watch->note('download', (string) ($parameters['url'] ?? ''));
            }

            return;
        }
        if ($name === 'Target.targetCrashed') {
            foreach ($this->tabs as $tab) {
                $tab->target === ($parameters['targetId'] ?? '') && $tab->watch->note('crash', (string) ($parameters['status'] ?? ''));
            }

            return;
        }
        ($this->tabs[$session] ?? null)?->hear($session, $name, $parameters);
    }

    /** @param array<string, mixed> $target */
    private function attached(array $target, string $session, string $parent): void
    {
        $this->sessions[(string) $target['targetId']] = $session;
        $opener = (string) ($target['openerId'] ?? '');
        if ($parent !== '') {
            // A frame or a worker of a page's: what it asks for is that page's.
            $tab = $this->tabs[$parent] ?? null;
            if ($tab !== null) {
                $this->tabs[$session] = $tab;
                $tab->takeIn($session);
            }
        } elseif ($opener !== '') {
            $this->opened($session, (string) $target['targetId'], $opener);
        }
        $this->devtools->send('Runtime.runIfWaitingForDebugger', [], $session, false);
    }

    private function opened(string $session, string $target, string $opener): void
    {
        $of = $this->tabs[$this->sessions[$opener] ?? ''] ?? null;
        if ($of === null || ! $of->watch->opened()) {
            $this->devtools->send('Target.closeTarget', ['targetId' => $target], '', false);

            return;
        }
        $this->tabs[$session] = $of;
        $of->takeIn($session);
    }

    /** @param array<string, string> $hosts */
    private static function capabilities(string $profile, array $hosts): DesiredCapabilities
    {
        // A name that is called with another address than the one that was checked gains nothing by changing it meanwhile.
        $hosts = array_filter($hosts, static fn (string $address, string $host): bool => preg_match('/\A[a-z0-9.-]+\z/i', $host) === 1 && filter_var($address, FILTER_VALIDATE_IP) !== false, ARRAY_FILTER_USE_BOTH);
        $rules = implode(' , ', [...array_map(static fn (string $host, string $address): string => "MAP {$host} {$address}", array_keys($hosts), $hosts), 'MAP * ^NOTFOUND']);
        $options = (new ChromeOptions())->addArguments([
            '--headless=new', '--disable-gpu', '--no-first-run', '--hide-scrollbars', '--force-color-profile=srgb', '--mute-audio',
            '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-extensions', '--disable-quic', '--disable-default-apps',
            '--disable-background-timer-throttling', '--disable-backgrounding-occluded-windows', '--disable-renderer-backgrounding',
            '--disable-features=Translate,OptimizationHints,MediaRouter,InterestFeedContentSuggestions,CalculateNativeWinOcclusion',
            // Pages are met as visitors meet them: some treat whoever says to be driven in another way, and so does a redirect test.
            '--disable-blink-features=AutomationControlled',
            '--js-flags=--max-old-space-size='.self::MOST_SCRIPT_MEGABYTES,
            '--no-proxy-server', "--host-resolver-rules={$rules}", "--user-data-dir={$profile}",
            // Chromium refuses its own sandbox to root; everybody else has it.
            ...(posix_geteuid() === 0 ? ['--no-sandbox'] : []),
        ])->setExperimentalOption('excludeSwitches', ['enable-automation', 'disable-popup-blocking']);
        $capabilities = DesiredCapabilities::chrome()->setCapability(ChromeOptions::CAPABILITY, $options);
        // What a page does while it loads is watched, not waited for.
        $capabilities->setCapability('pageLoadStrategy', 'none');
        // Dialogs are answered by whoever watches the page.
        $capabilities->setCapability('unhandledPromptBehavior', 'ignore');
        $capabilities->setCapability('timeouts', ['script' => 10_000, 'pageLoad' => 15_000, 'implicit' => 0]);

        return $capabilities;
    }

    private static function freePort(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new BrowserGone('No port is free.');
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        fclose($socket);

        return $port;
    }

    private static function await(callable $is, Process $process): void
    {
        $until = microtime(true) + self::START_SECONDS;
        while (! $is()) {
            if (! $process->isRunning() || microtime(true) > $until) {
                throw new BrowserGone('ChromeDriver does not start: '.mb_strcut(trim($process->getErrorOutput() ?: $process->getOutput()), 0, 300));
            }
            usleep(20_000);
        }
    }
}
