package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.springframework.asm.ClassReader;
import org.springframework.asm.ClassVisitor;
import org.springframework.asm.MethodVisitor;
import org.springframework.asm.Opcodes;
import plenzo.core.keeping.Kept;
import plenzo.engine.Engine;
import plenzo.store.H2Keeper;

/** A record that lost a race was not written: whoever ignores that says what is not true. */
class WritesAreLookedAtTest {
  private static final String SHELF = "plenzo/core/keeping/Kept$Shelf";

  @Test
  void nobodyDropsTheAnswerOfAnUpdate() throws Exception {
    assertThat(dropped(Engine.class)).isEmpty();
    assertThat(dropped(H2Keeper.class)).isEmpty();
  }

  @Test
  void findsOneThatIsDropped() throws IOException {
    try (InputStream in =
        WritesAreLookedAtTest.class.getResourceAsStream("WritesAreLookedAtTest$Careless.class")) {
      List<String> found = new ArrayList<>();
      read(in.readAllBytes(), found);
      assertThat(found).singleElement().asString().endsWith("Careless.drop");
    }
  }

  /** What must not be written. */
  static final class Careless {
    private Careless() {}

    static void drop(Kept kept) {
      kept.sites().update(kept.sites().all().get(0));
    }

    static boolean look(Kept kept) {
      return kept.sites().update(kept.sites().all().get(0));
    }
  }

  private static List<String> dropped(Class<?> inside) throws Exception {
    Path at = Path.of(inside.getProtectionDomain().getCodeSource().getLocation().toURI());
    if (Files.isDirectory(at)) {
      return in(at);
    }
    try (FileSystem jar = FileSystems.newFileSystem(at)) {
      return in(jar.getPath("/"));
    }
  }

  private static List<String> in(Path root) throws IOException {
    List<String> found = new ArrayList<>();
    int read = 0;
    try (Stream<Path> all = Files.walk(root)) {
      for (Path p : all.filter(f -> f.toString().endsWith(".class")).toList()) {
        read(Files.readAllBytes(p), found);
        read++;
      }
    }
    assertThat(read).as("classes that were read").isGreaterThan(5);
    return found;
  }

  private static void read(byte[] code, List<String> found) {
    ClassReader reader = new ClassReader(code);
    reader.accept(
        new ClassVisitor(Opcodes.ASM9) {
          @Override
          public MethodVisitor visitMethod(
              int access, String name, String descriptor, String signature, String[] thrown) {
            return new MethodVisitor(Opcodes.ASM9) {
              private boolean updated;

              @Override
              public void visitMethodInsn(
                  int opcode, String owner, String method, String type, boolean ofInterface) {
                updated = owner.equals(SHELF) && method.equals("update");
              }

              @Override
              public void visitInsn(int opcode) {
                if (updated && opcode == Opcodes.POP) {
                  found.add(reader.getClassName() + "." + name);
                }
                updated = false;
              }
            };
          }
        },
        ClassReader.SKIP_DEBUG | ClassReader.SKIP_FRAMES);
  }
}
