export { editedSound, SoundEdit, type EditedSound } from './edits';
