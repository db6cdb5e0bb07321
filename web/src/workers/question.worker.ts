import { expose } from 'comlink'
import { questionWork } from './questionWork'

expose(questionWork())
