import { answerOne } from './work';

answerOne();
