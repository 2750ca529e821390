/** The string's row begins so far down, and is so high, css px. */
export const TOP = 10;
export const ROW = 22;
/** Height of the strip; with a curve open it is higher by that. */
export const HEIGHT = 92;
/** Time begins so far from the left and ends so far from the right. */
export const NAMES = 100;
export const END = 16;
/** An opened string: its values and its speed below each other, with room around them. */
export const VALUES = 90;
export const SPEED = 34;
export const CARD = VALUES + SPEED + 24;
