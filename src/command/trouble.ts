/** Something the person at the keyboard can put right: shown as a sentence, without a stack. */
export class Trouble extends Error {}
