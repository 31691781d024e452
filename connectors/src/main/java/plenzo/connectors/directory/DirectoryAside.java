package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.ItemsLooking;

/** A folder in what Plenzo keeps beside a directory; it is changed in the directory's own way. */
final class DirectoryAside implements Aside {
  private final DirectoryConnector connector;
  private final Access changing;
  private final Path place;

  DirectoryAside(DirectoryConnector connector, Access changing, long rehearsal) {
    this.connector = connector;
    this.changing = changing;
    this.place = new Control(changing).rehearsal(rehearsal);
  }

  private Path tree() {
    return place.resolve("tree");
  }

  @Override
  public Access inside() {
    return changing.at(tree().toString());
  }

  @Override
  public void fill(ItemsLooking from, Map<ComponentKey, Digest> pieces, Runnable each) {
    drop();
    try {
      Files.createDirectories(tree());
      for (Map.Entry<ComponentKey, Digest> piece : pieces.entrySet()) {
        each.run();
        String name = piece.getKey().name();
        Path to = Tree.resolve(tree(), name);
        Files.createDirectories(to.getParent());
        Tree.write(to, from.read(piece.getKey()), piece.getValue(), name);
      }
    } catch (IOException | IllegalStateException e) {
      throw Control.failed("Nothing can be rehearsed beside " + changing, e);
    }
    connector.makeReady(inside());
  }

  @Override
  public void drop() {
    try {
      Disk.remove(place);
    } catch (IOException e) {
      throw Control.failed("What was rehearsed beside " + changing + " stays", e);
    }
  }
}
