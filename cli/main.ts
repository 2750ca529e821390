console.log('soon');
