import 'fake-indexeddb/auto';
import 'reflect-metadata';
