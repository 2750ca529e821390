import { database } from '../db/orm';
import { query } from '../db/query';
import { task } from './task';

/** Does nothing but what every other task needs: its code is loaded and the database reached. */
export const wake = task<object, object>(async () => {
  await query(await database(), 'select 1');
  return {};
});
