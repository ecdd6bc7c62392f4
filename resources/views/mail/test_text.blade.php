Mails arrive.

Somebody asked Pellix for this test. A new trouble of a running experiment of {!! $site->name !!} would be told the same way.
What you are told, and when not, you choose here: {!! $root !!}/notices/settings
