<h1>Welcome to Larkhollow</h1>
<p class="lead">Your card lies at the desk. The first loan is already paid for.</p>
<p><a class="button" href="/catalogue">Choose an instrument</a></p>
<?php return 'Welcome, member';
