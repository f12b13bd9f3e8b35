document.getElementById('root')!.textContent='hello'
