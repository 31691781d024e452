package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Path;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** Paths that versions travel. */
public final class Paths {
  private final Tools tools;

  public Paths(Tools tools) {
    this.tools = tools;
  }

  public List<Path> list() {
    return tools.keeper().read(kept -> kept.paths().all());
  }

  public Path lay(Person by, String key, String name, String source, List<String> legs) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    Path path = Applications.checked(() -> new Path(key, name, source, legs, 0), "/legs");
    return tools
        .keeper()
        .write(
            kept -> {
              List<String> all = new ArrayList<>(legs);
              all.add(source);
              for (String stage : all) {
                kept.stages().find(stage).orElseThrow(() -> Problem.notFound("stage", stage));
              }
              if (kept.paths().find(key).isPresent()) {
                throw Problem.invalid("TAKEN", "There is already a path \"" + key + "\".", "/key");
              }
              kept.paths().insert(path);
              kept.note(
                  Event.of(
                      by.login(),
                      "path laid",
                      key + ": " + source + " to " + String.join(", ", legs)),
                  tools.now());
              return path;
            });
  }
}
