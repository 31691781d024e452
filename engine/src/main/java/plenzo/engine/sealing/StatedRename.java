package plenzo.engine.sealing;

import java.util.Optional;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.version.Draft;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.Version;
import plenzo.engine.setup.Renames;
import plenzo.engine.setup.SiteLook;

/**
 * A person's word, which nobody asked for, that a table or column of the version drafted from has
 * another name at the source: both have to be there, and the server's own numbers must not say
 * otherwise.
 */
final class StatedRename {
  private final Sources sources;
  private final Renames renames;
  private final Draft draft;
  private final Version parent;

  StatedRename(Sources sources, Renames renames, Draft draft, Version parent) {
    this.sources = sources;
    this.renames = renames;
    this.draft = draft;
    this.parent = parent;
  }

  /**
   * @throws Problem when they cannot be one
   */
  void requireFits(LikelyRename pair) {
    Draft.Pick pick =
        draft.picks().stream()
            .filter(p -> p.key().equals(pair.component()))
            .findFirst()
            .orElseThrow(
                () ->
                    Problem.invalid(
                        "NOT_PICKED",
                        pair.component()
                            + " is no table that is picked in "
                            + draft.id()
                            + ": take it first.",
                        "/component"));
    try (SiteLook look =
        sources.open(draft.application(), new SiteKey(pick.stage(), pick.site()))) {
      if (pair.ofTable()) {
        ofTable(look, pick, pair);
      } else {
        ofColumn(look, pick, pair);
      }
    }
  }

  private void ofTable(SiteLook look, Draft.Pick pick, LikelyRename pair) {
    if (parent.entry(ComponentKey.of(pair.was())).isEmpty()) {
      throw notOne(parent.number() + " has no " + pair.was(), "/was");
    }
    Renames.Known known =
        renames.at(new Renames.Of(parent.application(), parent.number()), look.tables());
    if (parent.entry(pair.component()).isPresent()
        && known.tells(TableName.of(pair.component().name()))) {
      throw notOne(pair.is() + " is another table of " + parent.number(), "/is");
    }
    TableName was = TableName.of(ComponentKey.of(pair.was()).name());
    if (known.isKnownStill(was)) {
      throw still(pair.was(), pick);
    }
  }

  private void ofColumn(SiteLook look, Draft.Pick pick, LikelyRename pair) {
    TableName is = TableName.of(pair.component().name());
    Renaming names = sources.renamed(look, parent, draft.renames());
    TableName before = names.before(is);
    TableStructure then =
        parent
            .entry(ComponentKey.of("table/" + before.componentName()))
            .map(sources::structure)
            .orElse(TableStructure.EMPTY);
    Optional<TableCapture> now = look.tables().table(is);
    if (then.column(pair.was()).isEmpty()) {
      throw notOne(parent.number() + " has no column " + pair.was() + " of " + before, "/was");
    }
    boolean known =
        renames
            .at(new Renames.Of(parent.application(), parent.number()), look.tables())
            .tellsColumns(before, is);
    if (known && then.column(pair.is()).isPresent()) {
      throw notOne(pair.is() + " is another column of " + parent.number(), "/is");
    }
    if (now.flatMap(t -> t.structure().column(pair.is())).isEmpty()) {
      throw notOne(is + " has no column " + pair.is() + " at " + place(pick), "/is");
    }
    boolean there = now.flatMap(t -> t.structure().column(pair.was())).isPresent();
    if (known && there && !names.renamedColumns(is).containsKey(pair.was())) {
      throw still(pair.was() + " of " + is, pick);
    }
  }

  private static String place(Draft.Pick pick) {
    return pick.stage() + "/" + pick.site();
  }

  private Problem still(String what, Draft.Pick pick) {
    return notOne(
        what
            + " is the same as in "
            + parent.number()
            + ", as the numbers of "
            + place(pick)
            + " tell",
        "/was");
  }

  private static Problem notOne(String why, String field) {
    return Problem.invalid("NOT_ONE", why + ".", field);
  }
}
