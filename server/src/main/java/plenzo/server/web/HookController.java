package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import plenzo.core.problem.Problem;
import plenzo.engine.Engine;
import plenzo.server.security.Asking;

/**
 * Calls from the servers of repositories, which sign what they send with the secret of the hook
 * instead of signing in.
 */
@RestController
@RequestMapping(Asking.HOOKS)
class HookController {
  private final Engine engine;

  HookController(Engine engine) {
    this.engine = engine;
  }

  /** Looks at the application's source in the background; 202 at once. */
  @PostMapping("/{application}")
  ResponseEntity<Void> called(@PathVariable String application, HttpServletRequest request)
      throws IOException {
    byte[] body;
    try (InputStream in = request.getInputStream()) {
      body = in.readAllBytes(); // bounded by the filter
    }
    if (!engine.sourceWatch().called(application, body, request::getHeader)) {
      throw new Problem(
          Problem.Reason.NOT_ALLOWED,
          "SIGNATURE",
          "There is no such hook, or the signature is not that of its secret.",
          List.of(
              "Sign the body with HMAC-SHA256, as Plenzo-Signature: sha256=…, or in the header that"
                  + " the application's repository names"),
          null);
    }
    return ResponseEntity.status(HttpStatus.ACCEPTED).build();
  }
}
