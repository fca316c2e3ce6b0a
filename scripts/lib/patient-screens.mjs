import { configure } from '@testing-library/react';

// A screen that is loaded when it is first shown takes seconds on a machine that does other work beside the tests.
configure({ asyncUtilTimeout: 20_000 });
