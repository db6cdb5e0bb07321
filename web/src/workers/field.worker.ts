import { expose } from 'comlink'
import { fieldWork } from './fieldWork'

expose(fieldWork())
