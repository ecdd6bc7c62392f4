document.body.append('Pellix');
