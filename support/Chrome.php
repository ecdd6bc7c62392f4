<?php

declare(strict_types=1);

namespace Support;

use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Remote\DesiredCapabilities;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Symfony\Component\Process\Process;

/** Headless Chromium through ChromeDriver. Each `open()` is a fresh profile; `quit()` ends everything that was started. */
final class Chrome
{
    private readonly Process $driver;

    private readonly int $port;

    /** @var list<RemoteWebDriver> */
    private array $open = [];

    public function __construct()
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0');
        $this->port = (int) substr(strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        fclose($socket);
        $this->driver = new Process(['chromedriver', "--port={$this->port}", '--log-level=SEVERE'], timeout: null);
        $this->driver->start();
        $this->driver->waitUntil(static fn (string $type, string $text): bool => str_contains($text, 'started successfully'));
    }

    public function open(int $width = 1280, int $height = 800): RemoteWebDriver
    {
        $options = (new ChromeOptions())->addArguments([
            '--headless=new', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
            '--disable-component-update', '--disable-sync', '--hide-scrollbars', '--force-color-profile=srgb',
        ]);
        $capabilities = DesiredCapabilities::chrome()->setCapability(ChromeOptions::CAPABILITY, $options);
        $browser = RemoteWebDriver::create("http://127.0.0.1:{$this->port}", $capabilities, 120_000, 120_000);
        $browser->manage()->timeouts()->setScriptTimeout(90);
        // The window's size includes its frame; what counts is the page's.
        $browser->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', [
            'cmd' => 'Emulation.setDeviceMetricsOverride',
            'params' => ['width' => $width, 'height' => $height, 'deviceScaleFactor' => 1, 'mobile' => false],
        ]);
        $this->open[] = $browser;

        return $browser;
    }

    public function quit(): void
    {
        foreach ($this->open as $browser) {
            try {
                $browser->quit();
            } catch (\Throwable) {
                // It was closed by its test.
            }
        }
        $this->open = [];
        $this->driver->stop(3);
    }
}
