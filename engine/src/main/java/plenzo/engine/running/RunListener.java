package plenzo.engine.running;

import plenzo.core.run.Run;

/** Told what goes on in runs, for people who watch; must return at once. */
public interface RunListener {
  void changed(Run run);

  void said(Run run, String line);

  RunListener NOBODY =
      new RunListener() {
        @Override
        public void changed(Run run) {}

        @Override
        public void said(Run run, String line) {}
      };
}
