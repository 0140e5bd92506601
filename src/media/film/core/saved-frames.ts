/** So many pictures of a film are saved at once. */
export const MOST_SAVED_FRAMES = 5000;
