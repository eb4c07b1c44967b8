/** The demo that opens by itself has a fixed place; further copies get ids of their own. */
export const DEMO_ID = 'frostline';
