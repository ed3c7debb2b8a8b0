/** The sentence that stands wherever the work can hurt someone: the core's own. */
import vocabulary from "../api/vocabulary.json";

export const { who: WHO, qualified: QUALIFIED } = vocabulary.cautions;
