export { serve, type Served, type ServeOptions } from './serve.ts';
