// Mocha's dot reporter, which also writes its counts to the file that MOCHA_REPORT names.
const { writeFileSync } = require('node:fs');
const { reporters, Runner } = require('mocha');

module.exports = class extends reporters.Dot {
  constructor(runner, options) {
    super(runner, options);
    runner.once(Runner.constants.EVENT_RUN_END, () =>
      writeFileSync(process.env.MOCHA_REPORT, JSON.stringify(runner.stats)),
    );
  }
};
