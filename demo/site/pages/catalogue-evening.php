<h1 class="heading">The evening shelves</h1>
<p class="lead">The same instruments, by lamplight: quiet ones first.</p>
<p><a class="button" href="/catalogue/harrow-flute">A flute for the evening</a></p>
<?php return 'Evening shelves';
