// What runs in threads; bundled into .build/threads.mjs.
export { cut } from './cut';
export { fill } from './fill';
export { layOut } from './layOut';
export { extend } from './extend';
